import { Button, Menu, MenuItem, Tooltip } from '@mui/material';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { counted, firstWords, lastWords, passagesOf, type Proposal } from '@tea-pencil/core';
import { usePop } from '../kit/focus';
import { said } from '../kit/time';
import { useHandler } from '../kit/use-handler';
import { useOpened } from '../opened/opened';
import { useReviewed } from '../reviewing/use-reviewing';
import { useLastLook } from './context';
import type { Found } from './found';
import { kindWords, proposalWords, wordsOf } from './remaining';

/** One finding: what, where, why, and what can be done about it. */

/** The words around a finding, with the finding set off. */
function Around({ finding, brief = false }: { finding: Found; brief?: boolean }) {
  const { from, to, block, passage } = finding;
  const text = passagesOf(block)[passage]?.text ?? '';
  const words = finding.words || (finding.kind === 'empty' ? wordsOf(finding) : '');
  return (
    <span className={brief ? undefined : 'finding-around'}>
      {lastWords(text.slice(0, from), brief ? 16 : 40)}
      <mark className="finding-words">
        {from === to ? '‸' : words.trim() ? words.slice(0, 200) : '␣'.repeat(Math.min(words.length, 4))}
      </mark>
      {firstWords(text.slice(to), 40)}
    </span>
  );
}

/** What would stand there instead: those of spelling are worked out when somebody asks. */
export function useProposals(
  finding: Found | null,
  wanted: boolean,
): { proposals: readonly Proposal[]; searching: boolean } {
  const { near } = useLastLook();
  const [found, setFound] = useState<{ key: string; words: string[] } | null>(null);
  const later = !!finding?.later;
  const here = later && found?.key === finding?.key ? found : null;
  const searching = later && wanted && !here;
  // While others write, the same finding is found anew; what is being worked out for it is not begun again by that.
  const key = searching ? finding!.key : null;
  const ask = useHandler(() => near(finding!));
  useEffect(() => {
    if (key === null) return;
    let over = false;
    void ask().then((words) => !over && setFound({ key, words }));
    return () => {
      over = true;
    };
  }, [key, ask]);
  if (!finding) return { proposals: none, searching: false };
  if (!here) return { proposals: finding.proposals, searching };
  const first = finding.proposals.map(({ text }) => text);
  const more = here.words.filter((text) => !first.includes(text)).map((text): Proposal => ({ text }));
  return { proposals: [...finding.proposals, ...more].slice(0, 6), searching };
}
const none: readonly Proposal[] = [];

/** Who has brought it in, and whether that is decided. */
function Origin({ finding }: { finding: Found }) {
  const { nameOf } = useOpened();
  const { changes } = useReviewed();
  const { decisionOf } = useLastLook();
  const change = finding.change ? changes.find(({ id }) => id === finding.change) : undefined;
  if (change)
    return <span className="finding-origin">brought in by a change of {nameOf(change.author)}, still pending</span>;
  const decision = decisionOf(finding);
  if (!decision) return null;
  const { author, decidedBy, verdict, at } = decision;
  const done = verdict === 'accept' ? 'accepted' : 'rejected';
  return (
    <span className="finding-origin">
      here {nameOf(decidedBy)} {done} a change of {nameOf(author)}, {said(at)}
    </span>
  );
}

/** For whom a word is right. */
function KeepWord({ finding }: { finding: Found }) {
  const { may, me } = useOpened();
  const { keepWord } = useLastLook();
  const { open, close, props, at } = usePop();
  const keep = (scope: 'manuscript' | 'house' | 'person') => () => close(() => void keepWord(finding, scope));
  return (
    <>
      <Tooltip title="The word is right; no dictionary has it">
        <Button color="inherit" size="small" aria-haspopup="menu" aria-expanded={!!at} onClick={open}>
          It is a word
        </Button>
      </Tooltip>
      <Menu {...props}>
        {may.write && <MenuItem onClick={keep('manuscript')}>in this text</MenuItem>}
        {may.write && !me.guest && <MenuItem onClick={keep('house')}>everywhere in the house</MenuItem>}
        <MenuItem onClick={keep('person')}>for me</MenuItem>
      </Menu>
    </>
  );
}

/** All of the same put right at once, as one sweep. */
function AllSo({ finding, alike, first }: Pick<Props, 'finding' | 'alike'> & { first: Proposal | undefined }) {
  const { say } = useOpened();
  const { putRight } = useLastLook();
  const each = alike.flatMap((one): [Found, Proposal][] => {
    // Of one word they become the same; of anything else each what is right for it.
    const proposal =
      one.proposals[0] ?? (finding.kind === 'spelling' && one.words === finding.words ? first : undefined);
    return proposal ? [[one, proposal]] : [];
  });
  if (each.length < 2) return null;
  return (
    <Tooltip title="Each by its first proposal, as one sweep in pencil">
      <Button
        size="small"
        color="inherit"
        onClick={() => {
          if (putRight(each)) say(`Recorded as one sweep: ${counted(each.length, 'place')}. Undo takes it back.`);
        }}
      >
        Put all {each.length} right
      </Button>
    </Tooltip>
  );
}

interface Props {
  finding: Found;
  /** Whether it is the one that one is at: only then it says all. */
  open: boolean;
  /** Those in the list that are of the same, it among them. */
  alike: readonly Found[];
  onOpen(): void;
  onGo(): void;
}

export function FindingCard({ finding, open, alike, onOpen, onGo }: Props) {
  const { may } = useOpened();
  const { putRight, leave } = useLastLook();
  const { proposals, searching } = useProposals(finding, open);
  const [name] = kindWords[finding.kind];
  const card = useRef<HTMLDivElement>(null);
  // The line that was pressed is gone: what has come in its place takes the keyboard.
  useLayoutEffect(() => {
    if (open && document.activeElement === document.body) card.current?.focus({ preventScroll: true });
  }, [open]);
  if (!open)
    return (
      <button type="button" className="finding-line" onClick={onOpen}>
        <span className="finding-kind">{name}</span>
        <span className="finding-short">
          <Around finding={finding} brief />
        </span>
        {finding.change && <span className="finding-new">by an edit</span>}
      </button>
    );
  return (
    <div ref={card} tabIndex={-1} className="finding-card" role="group" aria-label={`${name}: ${wordsOf(finding)}`}>
      <div className="finding-head">
        <span className="finding-kind">{name}</span>
        <Button size="small" color="inherit" onClick={onGo} sx={{ color: 'text.secondary', minWidth: 0 }}>
          To the words
        </Button>
      </div>
      <Around finding={finding} />
      <span className="finding-why">{finding.why}</span>
      <Origin finding={finding} />
      {may.write && (
        <div className="finding-proposals" role="group" aria-label="Proposals, in pencil">
          {proposals.map((proposal, i) => (
            <Button
              key={`${proposal.text} ${proposal.how ?? ''} ${i}`}
              size="small"
              variant={i === 0 ? 'contained' : 'outlined'}
              color={i === 0 ? 'primary' : 'inherit'}
              onClick={() => putRight([[finding, proposal]])}
            >
              {proposalWords(proposal)}
            </Button>
          ))}
          {searching && <span className="second">looking for words like it …</span>}
          {!searching && !proposals.length && <span className="second">No proposal; put it right in the text.</span>}
        </div>
      )}
      <div className="finding-acts">
        {finding.kind === 'spelling' && <KeepWord finding={finding} />}
        {may.write && (
          <>
            <Button size="small" color="inherit" onClick={() => void leave(finding, false)}>
              Leave this one
            </Button>
            <AllSo finding={finding} alike={alike} first={proposals[0]} />
            <Tooltip title={alike.length > 1 ? `${alike.length} in this text` : 'Those that come later too'}>
              <Button size="small" color="inherit" onClick={() => void leave(finding, true)}>
                Leave all such
              </Button>
            </Tooltip>
          </>
        )}
      </div>
    </div>
  );
}
