import type { InkNote } from './history.js';
import type { TalkNotes } from './talk.js';

/**
 * A chapter of a book that does not exist, and what three people would change in it. [I|old|new] is a replacement by
 * Ines, [M*italic|words] formatting by Maren, [T¶] a paragraph that Tobias splits, [T<1|words] and [T>1|words] the two ends of a move; {1|words} the words of thread 1.
 */
export const wrackLine = `# 3 · The Wrack Line

Walk the top of the beach first. The line of dry weed that the last spring tide left [I|behind it |]is [I|a kind of|the shore’s own] ledger: what lives offshore is written there twice a day, [T|and|then] rubbed out again. A walker who goes straight to the water’s edge[I|,|] sees the sea and misses the shore.

Turn the weed over with a stick, never with a spade. Sandhoppers will scatter; {1|the paler ones are a different species} and keep to the [M*italic|upper third] of the line. [M||They feed at night and shelter by day under anything damp. ]Give them a minute and they will have gone, each into a hole no wider than a pencil.

Look for [I|mermaids purses|mermaid’s purses], the horned cases in which skates lay their eggs. {2|A case that is light and dry has hatched}; one that is heavy may still hold a living embryo and belongs back in the water. On the Harrow Shore three kinds are common, and a fourth turns up after gales [M|out of the west|from the south-west].

[T>1|At the harbour end the line is broken by the slipway, and in winter the lifeboat crew clears it. ]{3|Ask at the office before you walk past the second groyne}: the tide there comes in behind you.[T¶] The crew would rather answer a question than launch a boat, and [I|they say so|they will tell you so] with some warmth.

## How a wrack line is made

Every tide leaves a line, but not every line lasts. The twelve days between one spring tide and the next [I|see|bring] a run of lower and lower high waters, each of which stops short of the one before, so that the beach at [I|neaps|neap tides] is ruled like a page of music. Read it from the top: the highest line is the oldest, the lowest was wet this morning.

The oldest line is also the richest. It has had time to dry above and rot below, and it is {14|the damp, warm underside} that most of its animals want. [I|A|On a] cold morning in March you may put a hand into the heap and find it as warm as a bed. [M|The heat comes from bacteria|The warmth is made by bacteria], which are doing to the weed what they do to a heap of grass cuttings.

Gales change the order. A northerly can lift the whole ledger and set it down again in one bank {15|at the foot of the dunes}, with last week’s line on top of last month’s; after that there is no reading it [I|any more |]until the next springs. Walkers who know the shore go out on the second morning after a gale, when the sea has dropped its best things and the gulls have not yet [I|had them all|taken them all].

The bay faces [I|north west|north-west], and its two headlands work like a pair of hands. What the current brings along the coast is held between them for a tide or two before it is let go. That is why the Harrow Shore, which is not long, has a list of finds that is: [I|two hundred and eleven|211] kinds of drift seed, shell, egg case and driftwood in the press’s own notebooks, {4|kept since 1962}.

## What to carry

A stick with a blunt end. A bag for what is not yours to leave: line, net, glass. A hand lens, ten times is enough, on a cord round your neck and not in a pocket[I|;|:] pockets fill with sand. Something to kneel on. A tide table, and a watch you trust; the sea keeps better time than a telephone with a flat battery.

Do not carry a bucket unless you have children with you. A bucket asks to be filled, and what fills it is dead by [I|tea time|teatime]. If there are children, let the bucket hold water, and let each thing have its turn in it, and [I|then let each thing |]go back to the pool it came from.

Boots are better than bare feet along the wrack line[I|,|] even in August. There is glass in it, and wire, and [M|weever fish|lesser weevers] are washed in alive more often than people think. [M||The spines of a weever stay dangerous after its death. ]In the pools below the line you may go barefoot if you like; there the danger is only to your dignity.

## Reading the weed

Begin with the weed itself, because everything else lives in it. The broad straps with a frilled edge are [M|sugar kelp|sugar kelp, *Saccharina latissima*]; hang one by the door and it will go limp before rain, or so every house in Harrow will tell you. The [I|bladdered|bladder-bearing] one that pops underfoot is bladder wrack, and its single bladders are one for each year, more or less, on each branch. {5|The knotted wrack grows slower} and lives longer; a plant with fifteen bladders in a row was a seedling before the new pier was built.

Red weeds come in last and fade first. What is crimson in the water is pink on the sand by noon and white by evening, so if you want to know them you must get up early[I| in the morning|]. Float a piece in a white dish and look at how it branches: [I|always|whether always] in twos, or like a feather, or not at all. That alone will get you to the right page of the key at the end of this book.

Green weed in quantity means fresh water. Along the Harrow Shore it marks the three places where a stream comes down under the shingle, and by the lime kiln it marks the drain. {6|It is not a sign of dirt in itself}, though it likes what dirt brings.

## Shells and what is in them

An empty shell is rarely empty. Look into the mouth of a dog whelk for the blue claws of a hermit crab, and along the inside of a razor shell for the small white tubes that a worm has built there. A scallop with a neat round hole near the hinge was eaten by a [M|necklace shell|necklace shell, *Euspira catena*], which drills with its tongue and takes two days about it.

Razor shells lie along the line in hundreds after an easterly. They are the shells of animals that live upright in the sand at the lowest edge of the beach, and which a walker on the wrack line will never see alive. [T|You can learn a good deal from how they lie.|How they lie tells you something:] hinged and gaping, they died this week; single and scoured, they may be older than you are.

The small pink shells like a baby’s finger nail are tellins. Children collect them by the jar, and no harm is done, [I|because|since] the animal has long gone. The large thick oyster, on the other hand, is a fossil of a sort: no oyster has lived in the bay since the frost of 1895, and {7|every one you find is older than that}.

On the north beach, and only there, you may find a blue-rayed limpet still on its strap of kelp. Three bright dashes on a shell no bigger than a lentil, as if a draughtsman had tried his pen. [I|It is the thing|Of all things on this shore it is the one] that people remember[I| of all the things on this shore|].

## Egg cases

Egg cases deserve a page of their own, for they are the one thing on the wrack line that a walker can add to science by counting. Four horns and no tendrils, and it is a skate or a ray; tendrils that curl like a vine, and it is a [M|dogfish|small-spotted catshark, which the boats call a dogfish]. The size of the case, measured without the horns, will tell you which.

Soak a dry case overnight before you measure it. A dried case shrinks by a fifth, and many a record of the small-eyed ray has turned out to be a thornback that had been too long in the sun. [M||Measure along the middle, and do not pull it straight. ]Write the length on a slip of paper and lay it with the case when you take the photograph.

[I|Mermaids purses|Mermaid’s purses] come ashore all the year round, but the counts that matter are those of the four Sundays after the autumn equinox, when walkers all along the coast go out at the same state of the tide. {8|Bring your numbers to the harbour office}, or put them through its door. In the year of the great count the Harrow Shore gave 1,140 in one morning, of which a boy of nine found [I|over|more than] two hundred.

## Things that are not of the sea

A third of what lies on the line was made by people. Rope is the greater part of it: blue, orange and green, in lengths from a thumb to a furlong. Cut it before you pull it. [T|A rope that goes down into the sand may have a whole net at the other end of it, and a whole net may have|A rope that runs down into the sand may end in a net, and a net in] a seal.

Glass takes about [I|30|thirty] years to lose its edges on this beach and about eighty to lose its shine. Green is bottles, brown is beer, blue is medicine, and the rare lilac is window glass from before the first war, [I|which had|in which the] manganese [I|in it that has turned in the light|has turned in the light]. Do not be ashamed to pocket it. It is the only litter that the sea improves.

Now and then the line holds something from far away. Sea beans from the Caribbean float for a year or more and arrive with their polish on. A walker found a lobster tag in 2011 that had come [I|3000|3,000] miles, with the number of the boat and the name of its owner still to be read; he wrote, and [I|got|was sent] in return a photograph of the boat, the owner, and an enormous lobster.

## What not to touch

Leave alone anything metal that has corroded to a lump, however interesting its shape. The range at Gull Point fired over this water until 1958, and about once a year a walker finds what the sweepers did not. {9|Put a stick upright in the sand some way off}, walk away from it, and ring the coastguard from the road.

Leave alone the jellyfish too, even if they look dead. The blue and the lion’s mane keep their sting for days, and the wind can carry threads of it into the weed where you will not see them. [M|Vinegar does no good|Vinegar does more harm than good]; sea water and patience do.

Leave a seal pup where it lies. It has not been lost. Its mother is in the water, looking at you, and will not come ashore until you and your dog have gone [I|away|]. If it is thin, or bleeding, or has lain in the same place for two tides, ring the number on the inside of the cover. [T||Nobody who has rung it has ever been told that they were wasting anyone’s time. ]Stay where you are until they come, upwind, and keep the others back.

## A walk along the line

The best walk on the shore takes three hours and begins at the lime kiln two hours before low water. Keep the dunes on your left hand. For the first half mile the line is thin, because the current sets [I|off|away from] the shore here, and you may walk fast; from the wooden steps on, go slowly and look down.

Between the steps and the stream there are, in most years, three lines side by side. Take the middle one. It is the line of the last springs and it has had ten days to collect its tenants: sandhoppers, kelp flies, the little black beetle that hunts them, and behind the beetle the turnstones, which will let you come as near as [I|15|fifteen] paces if you walk as though you were going somewhere else.

Cross the stream by the stones and not by the sand, which is soft on the seaward side. [T|After that|Beyond it] the beach turns, and everything that floats turns with it. This is the corner where the sea beans come, and the cuttlebones, and where in the winter of the great gale a whole ship’s cargo of oranges came ashore, so that the village {10|ate marmalade until the following Christmas}.

[T|The last part of the walk is the harbour end, which has been described already.|You come at last to the harbour end.] Be off the sand below the second groyne by an hour after low water. [T<1|At the harbour end the line is broken by the slipway, and in winter the lifeboat crew clears it. ]There is a bench at the top of the slipway, put there by the crew in memory of a cook, and from it you can see the whole line that you have walked, and the sea already at work on it.

## Birds of the line

A flock that feeds along the wrack line is a guide to what lies in it. Turnstones mean flies, and flies mean that the line is old; a crow walking by itself and looking ashamed means something dead. [M|Sanderlings|Sanderling] do not care for the line at all, but run in front of the wave like clockwork toys, and where they run the sand is full of [I|little|small] shrimps.

Sit down when they come. A seated walker is a rock to them, and a rock that does not move for ten minutes will have ringed plover at its feet. [T|Of all the birds of the beach it is the ringed plover that suffers most from us|The ringed plover suffers most from us], for it lays its eggs on the open shingle just above the highest line, from the middle of April on, and trusts to their looking like stones. They do look like stones. From April to July walk below the line, keep the dog on its lead[I| at all times|], and if a small brown bird runs ahead of you trailing a wing as though it were broken, turn round and go back by the way you came: you have been standing in its nursery.

Oystercatchers will tell you about you. Their alarm carries half a mile, and every bird on the bay understands it. {12|A day on which no oystercatcher has scolded} is a day on which you have walked well.

Gulls are the other readers of the ledger, and they read faster. What a gull has left on the line it has usually left for a reason; starfish by the hundred, for instance, which no gull can swallow with its [M|arms|rays] spread, and which lie after a gale in drifts against the groynes. Most are dead. Those that curl an arm when you breathe on them can be carried down to the water, a few at a time, by anybody who likes to feel useful. It makes no difference to the bay, and all the difference to the starfish.

## Keeping a notebook

Write down the date, the wind of the day before, the state of the tide and who was with you. These four will be worth more in ten years than any list of names, because a name can be mended from a drawing but nobody can tell you afterwards which way the wind blew. [I|Draw things even if you draw badly|Draw, even badly]: a bad drawing of the right thing is better than a good photograph of the wrong one.

[M|Do not press seaweed between the pages|Press seaweed on separate sheets, never between the pages], or the notebook will smell of the shore for the rest of its life. There are those who hold that this is what a notebook is for. {11|They are not asked to lend theirs twice.}

Go back. One walk along a wrack line is an outing; twelve, a month apart, are a study. The line you read in June is not the line of January, and [I|it is only when you have seen both of them that|only when you have seen both] you will know what the shore has been telling you.
`;

/** What is said about it. */
export const wrackLineTalk: TalkNotes = {
  threads: {
    1: [
      ['M', 'Talitrus or Orchestia? If the latter, the next sentence is wrong.', { asks: 'T' }],
      ['T', 'Checked the survey sheet, it says Orchestia. @A, shall I change it?', { asks: 'A' }],
    ],
    2: [['M', 'True of skates. For catsharks the weight tells you nothing; perhaps say so.']],
    3: [['H', 'Please keep this warning in whatever you do with the paragraph.']],
    4: [
      ['I', 'The foreword says 1964. Which is right?', { asks: 'A' }],
      ['A', '1962. I have the first notebook here.'],
      ['I', 'Thank you, I will mend the foreword.'],
    ],
    5: [
      [
        'I',
        'Is the short form a deliberate echo of speech? If not, this is how I would have it.',
        { wording: 'The knotted wrack grows more slowly' },
      ],
    ],
    6: [['M', 'Good that this is said. I would not soften it.']],
    7: [['T', 'Can we be so sure of that? A neighbour shows me oysters every summer.', { asks: 'M' }]],
    8: [['H', 'We are closed on Sundays until April. The door has a slot.']],
    9: [['H', 'Ring 999 and ask for the coastguard; the station has no line of its own any more.']],
    10: [
      ['I', 'I love this. Is it so?'],
      ['A', 'My grandmother’s labels are still on the shelf.'],
    ],
    11: [['T', 'A good last line for the paragraph. Leave it.']],
    12: [
      ['I', 'Stronger without “a day on which” twice? But I hear the rhythm.'],
      ['A', 'Please leave the rhythm.'],
    ],
    15: [['I', 'Obviously the dunes are not the foot of anything. Fix this!!']],
  },
  resolved: [4, 6],
  tints: { 11: ['T', 'sage'], 14: ['T', 'sky'] },
  whole: [
    ['T', 'The second round closes on Friday. @I and @M: what is still open for you?'],
    ['M', 'Only the sandhoppers. The rest reads well.'],
  ],
  toSelf: ['in the press’s own notebooks', ['I', 'Ask at the press whether these may be named at all.']],
};

/** What the keepers wrote in ink before it was sent out. */
export const wrackLineInk: readonly InkNote[] = [
  {
    by: 'A',
    daysAgo: 26,
    before: 'A person who walks directly to the sea',
    after: 'A walker who goes straight to the water’s edge',
  },
  { by: 'A', daysAgo: 25.9, before: 'The line which is oldest is also', after: 'The oldest line is also' },
  {
    by: 'T',
    daysAgo: 21,
    before: 'Gales change everything.',
    after: 'Gales change the order.',
  },
  { by: 'T', daysAgo: 20.9, before: 'A stick.', after: 'A stick with a blunt end.' },
  {
    by: 'A',
    daysAgo: 20.5,
    before: 'and find it warm.',
    after: 'and find it as warm as a bed.',
  },
];
