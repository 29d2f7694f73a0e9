import { languageName } from '@tea-pencil/core';

/** Languages that can be chosen; a text may be in any other too, where a file says so. */
const tags = (
  'en-GB en-US de fr es it pt pt-PT nl sv da nb fi is pl cs sk sl hr hu ro bg el tr ru uk ' +
  'ar he fa ur hi bn ja zh-Hans zh-Hant ko vi id la'
).split(' ');

/** Languages with what they are called, in the order of their names. */
export const languages: readonly { tag: string; name: string }[] = tags
  .map((tag) => ({ tag, name: languageName(tag) }))
  .sort((a, b) => a.name.localeCompare(b.name, 'en'));

/** The same, with one that is not among them. */
export const languagesWith = (tag: string | null | undefined): typeof languages =>
  !tag || languages.some((one) => one.tag === tag) ? languages : [{ tag, name: languageName(tag) }, ...languages];
