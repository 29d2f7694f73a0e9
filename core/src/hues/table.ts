/** An author's hue: of lines and of text in it, and of the faint ground under inserted words (sRGB, #RRGGBB). */
export interface Hue {
  line: string;
  wash: string;
}

/** Hues that eight people can be told apart by, in both themes. Made by `npm run hues` (search.ts), not by hand. */
export const authorHues: { readonly light: readonly Hue[]; readonly dark: readonly Hue[] } = {
  light: [
    { line: '#2257A8', wash: '#ECF7FF' },
    { line: '#7B6C01', wash: '#F9F7E4' },
    { line: '#730119', wash: '#FFF0EF' },
    { line: '#BC3E4B', wash: '#FFF0EF' },
    { line: '#2F4300', wash: '#F1F9E7' },
    { line: '#30008E', wash: '#F3F4FF' },
    { line: '#623256', wash: '#FFF0FC' },
    { line: '#7B6B81', wash: '#FDF1FF' },
  ],
  dark: [
    { line: '#8DB4F2', wash: '#1A283E' },
    { line: '#B0CF03', wash: '#252B10' },
    { line: '#E26469', wash: '#3B1E1E' },
    { line: '#DEA3A7', wash: '#3B1E21' },
    { line: '#7E990E', wash: '#242B11' },
    { line: '#9AF99E', wash: '#192D1A' },
    { line: '#EFD5EA', wash: '#332030' },
    { line: '#9E85A1', wash: '#322035' },
  ],
};
