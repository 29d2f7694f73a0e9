/** An author's hue: of lines and of text in it, and of the faint ground under inserted words (sRGB, #RRGGBB). */
export interface Hue {
  line: string;
  wash: string;
}

/** Hues that eight people can be told apart by, in both themes. Made by `npm run hues` (search.ts), not by hand. */
export const authorHues: { readonly light: readonly Hue[]; readonly dark: readonly Hue[] } = {
  light: [
    { line: '#2257A8', wash: '#ECF7FF' },
    { line: '#615201', wash: '#FAF6E3' },
    { line: '#203A25', wash: '#EBFBED' },
    { line: '#3C2A4A', wash: '#FBF2FF' },
    { line: '#AA5066', wash: '#FFEFF3' },
    { line: '#447B77', wash: '#E4FCF9' },
    { line: '#886A51', wash: '#FFF2E5' },
    { line: '#6B4470', wash: '#FEF1FF' },
  ],
  dark: [
    { line: '#8DB4F2', wash: '#1A283E' },
    { line: '#F9DD7D', wash: '#2F270B' },
    { line: '#CAE8CA', wash: '#192D1A' },
    { line: '#9A85A8', wash: '#2F2138' },
    { line: '#CA9EA6', wash: '#3A1E24' },
    { line: '#68D4CD', wash: '#032F2C' },
    { line: '#EEB49C', wash: '#3A2015' },
    { line: '#F6D0F4', wash: '#341F33' },
  ],
};
