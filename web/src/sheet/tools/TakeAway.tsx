import { anchors, counted, fairReading, kinds, type FormatName, type Kind, type Thread } from '@tea-pencil/core';
import { Box, Button, Divider, Menu, MenuItem, Tooltip } from '@mui/material';
import { useSnackbar } from 'notistack';
import type { Node } from 'prosemirror-model';
import { memo, useMemo, useState } from 'react';
import { fetchFile } from '../../api/client';
import { useThreads } from '../../api/queries';
import { usePop } from '../../kit/focus';
import { changesOf } from '../../reviewing/changes-of';
import { useOpened } from '../../opened/opened';

/** How many threads lose their words when all is accepted. */
function goingAstray(doc: Node, threads: readonly Thread[]): number {
  const now = anchors(doc);
  const fastened = threads.filter(({ id }) => now.has(id));
  if (!fastened.length || !changesOf(doc).length) return 0;
  const then = anchors(fairReading(doc));
  return fastened.filter(({ id }) => !then.has(id)).length;
}

/** What stands in the text and beside it, before a file is made of it. */
function useHolding() {
  const { info, text } = useOpened();
  const { data } = useThreads(info.id);
  const doc = text.snapshot().state?.doc;
  return useMemo(() => {
    const threads: readonly Thread[] = data ?? [];
    const others = threads.filter(({ toSelf }) => !toSelf);
    return {
      pending: doc ? changesOf(doc).length : 0,
      threads: others.length,
      open: others.filter(({ resolved }) => !resolved).length,
      /** Threads whose words go when all is accepted. */
      astray: doc ? goingAstray(doc, others) : 0,
      notes: threads.length - others.length,
      inside: info.carried
        .filter(({ what }) => what.startsWith('change inside'))
        .reduce((n, one) => n + one.howMany, 0),
    };
  }, [doc, data, info.carried]);
}
type Holding = ReturnType<typeof useHolding>;

interface Offer {
  kind: string;
  label: string;
  says(holding: Holding): string;
}

const list = (parts: readonly (string | false)[]) => parts.filter(Boolean).join(' ');

/** What a file of that kind says in its own way, if it is not the one the text came from. */
const inOwnWay: Partial<Record<FormatName, string>> = {
  html: 'One page that reads well by itself, pictures inside.',
  md: 'Colours, alignment and pictures stay behind.',
};

/** The copies in a format that holds what is pending. */
const offersIn = ({ name, title }: Kind): Offer[] => [
  {
    kind: `fair.${name}`,
    label: `Fair copy, ${title}`,
    says: ({ pending, threads }) =>
      list([
        pending ? `${counted(pending, 'change')} taken as accepted;` : 'Nothing is pending;',
        threads ? `${counted(threads, 'thread')} left out.` : 'no comments.',
        'Read again before you get it: no change, no comment, the words of the fair reading.',
      ]),
  },
  {
    kind: `commented.${name}`,
    label: `Fair copy with comments, ${title}`,
    says: ({ pending, threads, open, astray }) =>
      list([
        pending ? `${counted(pending, 'change')} taken as accepted;` : 'Nothing is pending;',
        `${counted(threads, 'thread')} inside, ${open} open.`,
        astray > 0 &&
          `The words of ${counted(astray, 'thread')} go with a deletion; ${astray === 1 ? 'it stands' : 'they stand'} at the place.`,
      ]),
  },
  {
    kind: `marked.${name}`,
    label: `Marked copy, ${title}`,
    says: ({ pending, threads, open }) =>
      list([
        pending
          ? `${counted(pending, 'change')} pending inside, with authors and dates;`
          : 'No change is pending inside;',
        `${counted(threads, 'thread')}, ${open} open.`,
      ]),
  },
];

const plain: Offer[] = [
  { kind: 'fair.txt', label: 'Fair copy, plain text', says: () => 'Its words alone, a line a paragraph.' },
];
const threadsOnly: Offer = {
  kind: 'threads.jsonld',
  label: 'Threads, JSON-LD',
  says: ({ threads }) =>
    `${counted(threads, 'thread')} as W3C web annotations of the fair text, for programs that know them.`,
};

const inOrder = Object.values(kinds);

/** In which format the copies are offered: items of the menu in one line, so that the arrow keys reach them. */
const formatItems = (now: FormatName, onChoose: (name: FormatName) => void) =>
  inOrder.map(({ name, title }) => (
    <MenuItem
      key={name}
      role="menuitemradio"
      aria-checked={name === now}
      selected={name === now}
      onClick={() => onChoose(name)}
      sx={{
        display: 'inline-flex',
        width: 'auto',
        minHeight: 32,
        px: 1,
        ml: name === 'docx' ? 1 : 0,
        mb: 0.5,
        fontWeight: name === now ? 600 : 400,
      }}
    >
      {name === 'txt' ? 'Text' : title}
    </MenuItem>
  ));

/** What no copy holds, and what only another program can decide. */
function Besides({ notes, inside }: Holding) {
  const sentences = [
    notes > 0 && `${counted(notes, 'note')} to yourself ${notes === 1 ? 'is' : 'are'} in no copy.`,
    inside > 0 &&
      `${counted(inside, 'change')} stand inside things of the file, such as text boxes, and stay pending there.`,
  ].filter(Boolean);
  if (!sentences.length) return null;
  return (
    <Box className="second" sx={{ px: 2, py: 0.5, maxWidth: 420 }} role="note">
      {sentences.join(' ')}
    </Box>
  );
}

/** What stays behind where the text came in another file. */
function useStaying(format: FormatName): string | null {
  const { info } = useOpened();
  const kept = info.carried.reduce((n, one) => n + one.howMany, 0);
  const isOther = info.cameAs !== format && kept > 0;
  const carried =
    isOther && info.cameAs
      ? `What the ${kinds[info.cameAs].title} carries besides (${counted(kept, 'thing')}) stands in it by its words.`
      : null;
  return list([carried ?? false, inOwnWay[format] ?? false]) || null;
}

function Offers({ onTaken }: { onTaken(): void }) {
  const { info, say, toPage } = useOpened();
  const holding = useHolding();
  const usual = info.cameAs && kinds[info.cameAs].holds.carried ? info.cameAs : 'docx';
  const [format, setFormat] = useState<FormatName>(usual);
  const staying = useStaying(format);
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  const take = async ({ kind, label }: Offer) => {
    onTaken();
    const stop = new AbortController();
    const writing = enqueueSnackbar(`${label}: it is being written …`, {
      persist: true,
      action: () => (
        <Button color="inherit" size="small" onClick={() => stop.abort()}>
          Stop
        </Button>
      ),
    });
    try {
      await fetchFile(`/manuscripts/${info.id}/copies/${kind}`, stop.signal);
      say(`${label}: taken away.`);
    } catch (problem) {
      say((problem as Error).message);
    } finally {
      closeSnackbar(writing);
    }
  };
  const offers = [...(format === 'txt' ? plain : offersIn(kinds[format])), threadsOnly];
  return (
    <>
      <MenuItem
        onClick={() => {
          onTaken();
          void toPage('fair-copy');
        }}
        sx={{ fontWeight: 600 }}
      >
        Make the fair copy …
      </MenuItem>
      <Divider />
      {formatItems(format, setFormat)}
      <Divider sx={{ mt: '0 !important' }} />
      {offers.map((offer) => (
        <MenuItem key={offer.kind} onClick={() => void take(offer)} sx={{ whiteSpace: 'normal', maxWidth: 420 }}>
          <Box>
            <Box sx={{ fontWeight: 600 }}>{offer.label}</Box>
            <Box className="second">{offer.says(holding)}</Box>
          </Box>
        </MenuItem>
      ))}
      {(holding.notes > 0 || holding.inside > 0 || staying) && <Divider />}
      {staying && (
        <Box className="second" sx={{ px: 2, py: 0.5, maxWidth: 420 }} role="note">
          {staying}
        </Box>
      )}
      <Besides {...holding} />
    </>
  );
}

/** Copies of the text as files, each with what it will hold. */
export const TakeAway = memo(function TakeAway() {
  const { at, open, close, props, transition } = usePop();
  return (
    <>
      <Tooltip title="Download the text as a file">
        <Button color="inherit" aria-haspopup="menu" onClick={open} sx={{ fontWeight: 400, color: 'text.secondary' }}>
          Take away
        </Button>
      </Tooltip>
      <Menu {...props} slotProps={{ transition }}>
        {at && <Offers onTaken={() => close()} />}
      </Menu>
    </>
  );
});
