/** The people of the demo. */
export const cast = [
  { letter: 'I', name: 'Ines Vega', login: 'ines', note: 'copy editor' },
  { letter: 'T', name: 'Tobias Oyelaran', login: 'tobias', note: 'series editor' },
  { letter: 'M', name: 'Maren Holt', login: 'maren', note: 'marine biologist, scientific reviewer' },
  { letter: 'H', name: 'Harbour Office', login: 'harbour', note: 'reads for the harbour' },
  { letter: 'A', name: 'Alba Renwick', login: 'alba', note: 'author' },
] as const;

/** Who of them looks after the house. */
export const keeperLogin = 'tobias';
