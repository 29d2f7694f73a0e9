import type { TalkNotes } from './talk.js';

/** The other manuscripts of the demo, in the notation of the first. */

export const foreword = `# Foreword

This book began as a shoebox. For [H|thirty|more than thirty] years the walkers of the Harrow Shore have brought what they found to the harbour office, and for as long the office has put it on the windowsill until somebody could say what it was.

{1|The first notebook is dated 1964}. It holds a list of shells, a recipe and a quarrel about a limpet. Those that followed grew longer and less polite, and in them most of what is now known of this shore was written down for the first time.

The harbour office gives its leave for the notebooks to be quoted [H||, on the understanding that the names of boats are left out]. It asks every reader to [H|remember|keep in mind] that the slipway is a place of work, [H|and that the tide does not wait|that the second groyne is closed in winter, and that the tide waits for nobody].

We hope that this book will be spoiled by rain and sand[H|.|, and that a spoiled copy will be brought to us for the windowsill.]

The Harbour Office, Harrow[H||, in November]
`;

export const forewordTalk: TalkNotes = {
  threads: {
    1: [['I', 'Chapter 3 has 1962, and the author holds the book in her hand. I suggest 1962.', { asks: 'H' }]],
  },
};

export const beforeYouSetOut = `# 1 · Before You Set Out

The Harrow Shore is eleven miles long and nowhere more than half a mile wide, and there is no part of it that the sea does not own for some hours of the day. This book is about those hours and the others.

You need no skill to use it. You need a tide table, boots, and the habit of looking twice. The first look finds what you expected. The second finds what is there.

## Two tides

The sea comes up the beach twice a day, and not at the same time as yesterday. Each tide is some fifty minutes later than the one before it in the table, so that a walk which was safe at ten on Monday is under water at ten on Friday.

Around new and full moon the tides are large: these are springs, and they have nothing to do with the season. Between them come the neaps, when the sea goes neither far out nor far in. Most of what this book describes is best seen at springs, and most of the accidents of which the harbour office tells happened at springs too.

## How to use the chapters

- Each chapter begins at the top of the beach and goes down.
- Names are given as the village uses them; the key at the end has the others.
- A walk is described once, in the direction in which the sea is least likely to be behind you.

The chapters can be read in any order but this one. Read this one first, and read the page about the second groyne twice.
`;

export const winterTides = `# 9 · Winter Tides

In December the shore belongs to the birds. A walker is a guest, and an untidy one.

## Notes for this chapter

- The knot on the sand bar, and how to count them.
- Ice on the upper beach: 1963, 1981, 2010.
- What the lifeboat crew eats.
`;
