/** Whoever is mentioned has to be one of the people first: what names somebody waits for invitations that are on their way. */

let underWay: Promise<unknown> = Promise.resolve();

/** Somebody is being invited. */
export function inviting<T>(work: Promise<T>): Promise<T> {
  underWay = Promise.allSettled([underWay, work]);
  return work;
}

/** Done once nobody is being invited. */
export const invited = (): Promise<unknown> => underWay;
