/** Where sentences end: their mark and the space behind it (Unicode UAX #29, section 5, simplified). */
export const sentenceEnds = /[.!?…][”’"')\]]*\s+/g;
