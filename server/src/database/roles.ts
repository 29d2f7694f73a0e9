/** What a person may do in a manuscript, each role including the ones before it. */
export const roles = ['reader', 'remarker', 'proposer', 'decider', 'keeper'] as const;
export type Role = (typeof roles)[number];
export const mayAtLeast = (role: Role, least: Role): boolean => roles.indexOf(role) >= roles.indexOf(least);
