import { Button } from '@mui/material';
import { counted, kinds } from '@tea-pencil/core';
import type { Decider, FairCopy } from '@tea-pencil/wire';
import { fetchFile } from '../api/client';
import { fairCopyFile } from '../api/fair-copy';
import { exactly, said } from '../kit/time';
import { useOpened } from '../opened/opened';
import { useTakingBack } from './use-taking-back';

const size = (bytes: number): string =>
  bytes < 1_000_000 ? `${Math.ceil(bytes / 1000).toLocaleString()} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`;

/** A fair copy that was made: what became of what was pending, who decided, its files and their hashes. */
export function MadeCopy({ copy, newest }: { copy: FairCopy; newest: boolean }) {
  const { info, may, nameOf, say } = useOpened();
  const takeBack = useTakingBack();
  const { id, at, madeBy, fates, words, deciders, takenBack, format, inside, open, queries } = copy;
  const take = (file: 'clean' | 'marked' | 'record') =>
    fetchFile(fairCopyFile(info.id, id, file)).catch((problem: unknown) => say((problem as Error).message));
  return (
    <article className={`made-copy ${takenBack ? 'gone' : ''}`} aria-label={`Fair copy, ${exactly(at)}`}>
      <h3>
        <time dateTime={at} title={exactly(at)}>
          {said(at)}
        </time>
        , {nameOf(madeBy)}
      </h3>
      <p>
        {counted(words, 'word')}, {kinds[format].title}. {fateSentence(fates)}
        {(open > 0 || queries > 0) &&
          ` ${counted(open, 'thread')} open in the marked copy${queries ? `, ${counted(queries, 'query', 'queries')} without an answer` : ''}.`}
        {inside > 0 &&
          ` ${counted(inside, 'change')} inside things that only another program can decide, in both files.`}
      </p>
      {deciders.length > 0 && (
        <ul className="made-copy-deciders" aria-label="Who decided">
          {deciders.map((one) => (
            <li key={one.person}>
              <span className="dot" data-author={one.person} /> {decidedWords(one, nameOf)}
            </li>
          ))}
        </ul>
      )}
      {takenBack && (
        <p className="made-copy-back">
          Taken back by {nameOf(takenBack.by)}, {said(takenBack.at)}. The files are as they were made.
        </p>
      )}
      <div className="part-lines">
        {(['clean', 'marked'] as const).map((file) => (
          <div className="part-line" key={file}>
            <span className="part-line-name">
              {file === 'clean' ? 'Clean file' : 'Marked copy'}
              <span className="second">{size(copy[file].bytes)}</span>
              <code className="made-copy-hash" title="SHA-256 of the file: one that has another is another file">
                {copy[file].sha256}
              </code>
            </span>
            {may.takeAway && (
              <Button
                size="small"
                color="inherit"
                variant={newest && !takenBack ? 'outlined' : 'text'}
                onClick={() => void take(file)}
              >
                Take away<span className="heard-only"> the {file === 'clean' ? 'clean file' : 'marked copy'}</span>
              </Button>
            )}
          </div>
        ))}
      </div>
      <div className="made-copy-more">
        {may.takeAway && (
          <Button size="small" color="inherit" onClick={() => void take('record')}>
            The record, as text
          </Button>
        )}
        {may.decide && !takenBack && (
          <Button size="small" color="inherit" onClick={() => void takeBack(id)}>
            Take it back
          </Button>
        )}
      </div>
    </article>
  );
}

function fateSentence({ accept, reject, keep }: FairCopy['fates']): string {
  if (!accept && !reject && !keep) return 'Nothing was pending.';
  const parts = [accept && `${accept} accepted`, reject && `${reject} rejected`, keep && `${keep} left pending`];
  return `${parts.filter(Boolean).join(', ')}.`.replace(/^./, (first) => first.toUpperCase());
}

function decidedWords({ person, accepted, rejected, last }: Decider, nameOf: (id: string) => string): string {
  return `${nameOf(person)}: ${accepted.toLocaleString()} accepted, ${rejected.toLocaleString()} rejected, last ${said(last)}`;
}
