/** An author's hue: of lines and of text in it, and of the faint ground under inserted words (sRGB, #RRGGBB). */
export interface Hue {
  line: string;
  wash: string;
}

/** Hues that eight people can be told apart by, in both themes. Made by `npm run hues` (search.ts), not by hand. */
export const authorHues: { readonly light: readonly Hue[]; readonly dark: readonly Hue[] } = {
  light: [
    { line: '#2257A8', wash: '#ECF7FF' },
    { line: '#6A5B18', wash: '#FBF6E3' },
    { line: '#193B21', wash: '#EBFBED' },
    { line: '#442250', wash: '#FDF1FF' },
    { line: '#AD5269', wash: '#FFEFF3' },
    { line: '#2F7A91', wash: '#E5FAFF' },
    { line: '#8B6953', wash: '#FFF2E6' },
    { line: '#653C5A', wash: '#FFF0FC' },
  ],
  dark: [
    { line: '#8DB4F2', wash: '#1A283E' },
    { line: '#DBC463', wash: '#2E270B' },
    { line: '#C6E9C6', wash: '#192D1A' },
    { line: '#A57FB4', wash: '#302136' },
    { line: '#C57687', wash: '#3A1E24' },
    { line: '#98EEFF', wash: '#042D34' },
    { line: '#D79D88', wash: '#3A2016' },
    { line: '#D8AECE', wash: '#351F31' },
  ],
};
