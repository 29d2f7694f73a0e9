import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { asText, baseOf, counted, wordToKeep, type Proposal, type Range } from '@tea-pencil/core';
import type { DecidedAt, LastLookState, WordScope } from '@tea-pencil/wire';
import { keys } from '../api/keys';
import { useLastLookState } from '../api/last-look';
import { useTrying } from '../api/use-asking';
import { unknownWords } from '../kit/preferences';
import { useSoon } from '../kit/soon';
import { useStore } from '../kit/store';
import { useHandler } from '../kit/use-handler';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import type { Found, Looked } from './found';
import { Looker } from './looker';
import { blocksOf, placesOf } from './places';
import { remaining } from './remaining';
import { useDecidedAt } from './use-decided-at';

/** The last look at the open manuscript: what it finds, and what can be done about it. */

export interface LastLookValue extends Looked {
  /** What nobody has left and no kept word makes right, in reading order. */
  findings: readonly Found[];
  state: LastLookState | undefined;
  /** The decision that was made where a finding is. */
  decisionOf(finding: Found): DecidedAt | null;
  /** Where a finding stands in the text as it is; none where its block has changed meanwhile. */
  placesOf(finding: Found): Range[];
  /** Puts findings right in pencil, each by a proposal. @returns whether anything was changed */
  putRight(all: readonly [Found, Proposal][]): boolean;
  /** Writes something in one way throughout, in pencil. */
  unify(such: string, form: string): Promise<void>;
  near(finding: Found): Promise<string[]>;
  leave(finding: Found, all: boolean): Promise<void>;
  takeUp(left: string): Promise<void>;
  keepWord(finding: Found, scope: WordScope): Promise<void>;
  letWordGo(word: string): Promise<void>;
  taken(): Promise<void>;
}

const LastLookContext = createContext<LastLookValue | null>(null);

export function useLastLook(): LastLookValue {
  const value = useContext(LastLookContext);
  if (!value) throw new Error('The last look belongs to an open manuscript.');
  return value;
}

/** How long one waits after the text has come, and after a letter, and at most while others write on, in milliseconds. */
const first = 1200;
const pause = 250;
const longest = 2500;

/** Looks at the text for as long as anything shows what is found. */
function useLooker(wanted: boolean, state: LastLookState | undefined): [Looker, Looked] {
  const { info } = useOpened();
  const { doc } = useDrawn();
  const [looker] = useState(() => new Looker());
  useEffect(() => () => looker.close(), [looker]);
  const style = state?.style;
  const settings = useMemo(() => ({ language: info.language, style: style ?? null }), [info.language, style]);
  const begun = useRef(false);
  const known = state !== undefined;
  const lookSoon = useSoon(() => {
    if (!wanted || !known) return;
    begun.current = true;
    looker.look(doc, settings);
  }, longest);
  useEffect(() => lookSoon(begun.current ? pause : first), [wanted, known, doc, settings, lookSoon]);
  return [looker, useStore(looker.looked)];
}

/** What anybody wants to know: all, where the panel or the page is open; words only, where unknown ones are set off. */
function useWanted(): 'all' | 'words' | null {
  const { panels } = useOpened();
  const { page, look } = useLooking();
  const setOff = useStore(unknownWords);
  const open = useStore(panels, (all) => all.has('look'));
  if (page === 'last-look' || page === 'fair-copy' || (page === 'text' && open)) return 'all';
  return page === 'text' && setOff && look.reading === 'marked' ? 'words' : null;
}

export function LastLookProvider({ children }: { children: ReactNode }) {
  const { info, text, say } = useOpened();
  const { id } = info;
  const { data: state, isError } = useLastLookState(id);
  const wanted = useWanted();
  const [looker, looked] = useLooker(wanted !== null, isError ? emptyState : state);
  const findings = useMemo(() => remaining(looked.found, state), [looked.found, state]);
  const decisionOf = useDecidedAt(findings, wanted === 'all' ? looked.doc : null);
  const attempt = useTrying(keys.lastLook(id));
  const now = () => text.snapshot().state?.doc ?? null;

  const placesOfNow = useHandler((finding: Found): Range[] => {
    const doc = now();
    return doc ? placesOf(doc, finding) : [];
  });
  const putRight = useHandler((all: readonly [Found, Proposal][]): boolean => {
    const doc = now();
    if (!doc) return false;
    const blocks = blocksOf(doc);
    const there = all.flatMap(([{ block, passage, from, to }, proposal]) => {
      const place = blocks.get(block);
      return place ? [{ block: place.index, passage, from, to, proposal }] : [];
    });
    const done = text.putRight(there);
    if (!done) say('These words have changed meanwhile. They are looked at again.');
    return done;
  });
  const unify = useHandler(async (such: string, form: string) => {
    const all = await looker.rewriting(such, form);
    const { doc } = looker.looked.get();
    if (!doc || doc !== now()) return say('The text has changed meanwhile, and is looked at again. Try once more.');
    const corrections = all.map(({ block, passage, from, to, text: instead }) => ({
      ...{ block, passage, from, to },
      proposal: { text: instead },
    }));
    if (!text.putRight(corrections)) return say('There is nothing to change.');
    say(`Recorded as one sweep: ${counted(all.length, 'place')}. Undo takes it back.`);
  });
  const near = useHandler((finding: Found) => looker.near(finding.words, finding.language ?? info.language));
  const takeUp = useHandler(async (left: string) => void (await attempt('DELETE', `/manuscripts/${id}/left/${left}`)));
  const leave = useHandler(async ({ key, such, kind, words }: Found, all: boolean) => {
    const what = { key: all ? such : key, all, kind, words: asText(words.slice(0, 400)) };
    if (await attempt('POST', `/manuscripts/${id}/left`, what)) say(all ? 'All such are left.' : 'This one is left.');
  });
  const letWordGo = useHandler(
    async (word: string) => void (await attempt('DELETE', `/manuscripts/${id}/words/${word}`)),
  );
  const keepWord = useHandler(async ({ words, language }: Found, scope: WordScope) => {
    const word = wordToKeep(words);
    const kept = { scope, language: baseOf(language ?? info.language), word };
    if (!(await attempt('POST', `/manuscripts/${id}/words`, kept))) return;
    const whose = { house: 'the house', manuscript: 'this text', person: 'you' }[scope];
    say(`“${word}” is a word for ${whose}.`);
  });
  const taken = useHandler(async () => {
    if (await attempt('POST', `/manuscripts/${id}/last-look`)) say('The text has been looked over as it is now.');
  });
  const value = useMemo(
    (): LastLookValue => ({
      ...looked,
      ...{
        findings,
        state,
        decisionOf,
        placesOf: placesOfNow,
        putRight,
        unify,
        near,
        leave,
        takeUp,
        keepWord,
        letWordGo,
        taken,
      },
    }),
    [
      looked,
      findings,
      state,
      decisionOf,
      placesOfNow,
      putRight,
      unify,
      near,
      leave,
      takeUp,
      keepWord,
      letWordGo,
      taken,
    ],
  );
  return <LastLookContext value={value}>{children}</LastLookContext>;
}

const emptyState: LastLookState = { left: [], words: [], style: null, last: null };
