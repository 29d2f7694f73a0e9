import { Button, LinearProgress, MenuItem, Select } from '@mui/material';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { counted, findingKinds, languageName, type FindingKind, type Thread } from '@tea-pencil/core';
import { keys } from '../api/keys';
import { useLastLookState, useStyles } from '../api/last-look';
import { useTrying } from '../api/use-asking';
import { useKeepingFocus } from '../kit/use-keeping-focus';
import { Section } from '../kit/Section';
import { said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { EndTabs } from './EndTabs';
import { chosenOf, type Choice } from './choosing';
import { useLastLook } from './context';
import { FindingCard } from './FindingCard';
import { Filter } from './Filter';
import { Left, Words } from './Left';
import type { Found } from './found';
import { kindWords } from './remaining';
import { StillOpen } from './StillOpen';
import { useWays, Ways } from './Ways';

/** So many findings of a kind stand there before one asks for the rest. */
const few = 8;
const noneAlike: readonly Found[] = [];

/** The last look at the end: all that may be wrong, what is still open, and what people have made of it. */
export default function LastLookPage({ threads }: { threads: readonly Thread[] }) {
  const { info, may } = useOpened();
  const look = useLastLook();
  const { findings, looking, doc, problems, unread, words, state } = look;
  const [choice, setChoice] = useState<Choice>({ which: 'all', kind: null });
  const ways = useWays();
  const { broughtIn, others } = chosenOf(findings, choice, look);
  const list = useRef<HTMLDivElement>(null);
  const keeping = useKeepingFocus(list, findings);
  return (
    <main className="parts">
      <h1 className="heard-only">Last look at “{info.title}”</h1>
      {looking !== null && !doc && (
        <LinearProgress
          aria-label="The text is looked over"
          variant={looking ? 'determinate' : 'indeterminate'}
          value={looking * 100}
        />
      )}
      <div className="parts-columns">
        <div ref={list} tabIndex={-1} className="look-found" {...keeping}>
          <EndTabs />
          <Section
            title="Last look"
            says={doc ? verdict(findings.length, ways.length, words) : 'The text is looked over …'}
            beside={<Filter choice={choice} onChoose={setChoice} />}
          >
            {problems.map((problem) => (
              <p key={problem} className="look-problem" role="alert">
                {problem}
              </p>
            ))}
            {unread.map(({ language, words: many }) => (
              <p key={language} className="look-said">
                {counted(many, 'word')} in {languageName(language)}: there is no dictionary of that language here, and
                their spelling was not looked at.
              </p>
            ))}
            {broughtIn.length > 0 && <Kinds title="Brought in by edits" findings={broughtIn} all={findings} />}
            {others.length > 0 && (
              <Kinds title={broughtIn.length ? 'In the text' : ''} findings={others} all={findings} />
            )}
            {doc && !broughtIn.length && !others.length && (
              <p className="look-said">
                {findings.length ? 'Nothing of this choice.' : 'Nothing that this looks for is wrong with the text.'}
              </p>
            )}
          </Section>
        </div>
        <div>
          <Section title="Still open">
            <StillOpen threads={threads} />
          </Section>
          <Section title="In two ways" says="Either can be made the one, as a sweep in pencil.">
            <Ways />
          </Section>
          <Section title="House style">
            <StyleChoice />
          </Section>
          <Section title="Looked over">
            <p className="part-says">
              {state?.last
                ? `By ${nameOfLook(state.last.by, info.people)}, ${said(state.last.at)}. What has changed since can be looked at alone.`
                : 'Nobody has said yet that the text has been looked over.'}
            </p>
            {may.write && (
              <Button variant="outlined" color="inherit" onClick={() => void look.taken()}>
                It is looked over as it is now
              </Button>
            )}
          </Section>
          <Section title="Left as it is">
            <Left />
          </Section>
          <Section title="Words that are right">
            <Words />
          </Section>
        </div>
      </div>
    </main>
  );
}

const nameOfLook = (id: string, people: readonly { id: string; name: string }[]): string =>
  people.find((one) => one.id === id)?.name ?? 'someone';

function verdict(many: number, ways: number, words: number): string {
  const read = `${counted(words, 'word')} were looked over.`;
  if (!many && !ways) return `${read} Nothing that this looks for is wrong.`;
  return `${read} ${counted(many, 'finding')}, what edits have brought in first.`;
}

interface KindsProps {
  title: string;
  findings: readonly Found[];
  all: readonly Found[];
}

/** Findings kind by kind. */
function Kinds({ title, findings, all }: KindsProps) {
  const kinds = findingKinds.filter((kind) => findings.some((one) => one.kind === kind));
  return (
    <div className="look-kinds" role="group" aria-label={title || 'Findings'}>
      {title && (
        <h3 className="look-part">
          {title} ({findings.length})
        </h3>
      )}
      {kinds.map((kind) => (
        <OfKind key={kind} kind={kind} findings={findings.filter((one) => one.kind === kind)} all={all} />
      ))}
    </div>
  );
}

function OfKind({ kind, findings, all }: { kind: FindingKind; findings: readonly Found[]; all: readonly Found[] }) {
  const { toPage, goTo, text, toText } = useOpened();
  const { placesOf } = useLastLook();
  const [open, setOpen] = useState<string | null>(null);
  const [whole, setWhole] = useState(false);
  const shown = whole ? findings : findings.slice(0, few);
  const [name, says] = kindWords[kind];
  const toWords = async (finding: Found) => {
    await toPage('text');
    requestAnimationFrame(() => {
      const [first] = placesOf(finding);
      if (!first) return;
      goTo(first.from);
      text.select(first);
      toText();
    });
  };
  return (
    <div className="look-kind">
      <h4>
        {name}{' '}
        <span className="second">
          {findings.length}, {says}
        </span>
      </h4>
      <div role="list">
        {shown.map((finding, i) => (
          <div role="listitem" key={`${finding.key} ${i}`}>
            <FindingCard
              finding={finding}
              open={open === finding.key}
              alike={open === finding.key ? all.filter(({ such }) => such === finding.such) : noneAlike}
              onOpen={() => setOpen(finding.key)}
              onGo={() => void toWords(finding)}
            />
          </div>
        ))}
      </div>
      {findings.length > few && !whole && (
        <Button size="small" color="inherit" onClick={() => setWhole(true)}>
          Show all {findings.length}
        </Button>
      )}
    </div>
  );
}

/** Which house style the text follows. */
function StyleChoice() {
  const { info, may, me } = useOpened();
  const { data: state } = useLastLookState(info.id);
  const styles = useStyles(!me.guest);
  const attempt = useTrying(keys.lastLook(info.id));
  const now = state?.style ?? null;
  const follow = (style: string | null) => void attempt('PUT', `/manuscripts/${info.id}/style`, { style });
  const said = now
    ? `“${now.name}”, ${counted(now.rules.length, 'rule')}, version ${now.version}.`
    : 'The text follows no house style.';
  return (
    <>
      <p className="part-says">{said}</p>
      <div className="style-choice">
        {may.keep && styles.data && (
          <Select
            size="small"
            displayEmpty
            value={now?.id ?? ''}
            inputProps={{ 'aria-label': 'House style' }}
            onChange={(event) => follow(event.target.value || null)}
            sx={{ fontSize: 13, minWidth: 200 }}
          >
            <MenuItem value="">none</MenuItem>
            {styles.data.map(({ id, name }) => (
              <MenuItem key={id} value={id}>
                {name}
              </MenuItem>
            ))}
          </Select>
        )}
        {!me.guest && <Link to={now ? `/styles/${now.id}` : '/styles'}>{now ? 'Its rules' : 'House styles'}</Link>}
      </div>
    </>
  );
}
