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

/** A first draft, with the slips that a first draft has, and with some that its editors have brought in. */
export const winterTides = `# 9 · Winter Tides

From November to March the shore belongs to the sea. The days are short, the low waters fall in the dark, and what the gales leave behind has has not been seen by anyone before you.

Walkers ask which tides are worth an early start. Look in the table for the three days after full moon – they bring the lowest water – and go then, not on the day itself. [I|Wrap up well|Dress for it]; nobody has ever been too warm on the Harrow Shore in January.

## What the gales bring

A northerly that blows for two days is enought to strip the kelp from the ledges off Gull Point. It comes ashore in one bank [I|there|] and buries the wrack line of the week before. Turn it over—with a stick, as always—and you will find what lives [T|there|in it]: blue-rayed limpets, sea mats, and the small brown anemones that shut when the light reaches them (they open again in the bucket.

Look for the egg cases of the small-eyed ray, which come in with [T|an|the ]the first gale and are seldom seen after the New Year. Measure them, as chapter 6 explains, and write the length beside the date. In the winter of 1987 we counted 3000 of them between the lime kiln and the slipway, a distance of 4 km; the winter after it there were 1,140.

## Hard frost

Frost kills more on the shore than gales do. In a hard winter razor shells lie gaping along the wrack-line, and the gulls are too full to fly[I|; they|. they] sit and wait. Cockles die in their beds, and the smell tells you so by March

The harbour office keeps a list of the hard winters, "and a short list it is". See Table 2 for those since 1962. A crab that is caught by the frost looks dead and is not: carry it down to the water , and it will walk away from you within the hour.

## Where to stand

The slipway is gray with ice from December on. Stand on the shingle above it, never on the weed, and count the waves: the seventh is no larger than the sixth, whatever the crew tells you. [T|They|Its members] have told me so for 30 years. The light goes at four, and the way back is longer than the way out.
`;
