import type { Ground } from './search.js';

/** What author hues stand on, in both themes; the colours of the house. */
export const grounds: { light: Ground; dark: Ground } = {
  light: { sheet: '#FFFFFF', mist: '#E7EBEC', ink: '#1D1B22', lightness: [0.32, 0.58], wash: 0.972, first: '#2257A8' },
  dark: { sheet: '#1E1F24', mist: '#141518', ink: '#ECE9E4', lightness: [0.56, 0.9], wash: 0.275, first: '#8DB4F2' },
};
