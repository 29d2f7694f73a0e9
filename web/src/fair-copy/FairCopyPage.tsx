import type { Thread } from '@tea-pencil/core';
import { useFairCopies } from '../api/fair-copy';
import { Section } from '../kit/Section';
import { StillOpen } from '../last-look/StillOpen';
import { useOpened } from '../opened/opened';
import { EndTabs } from '../last-look/EndTabs';
import { Making } from './Making';
import { MadeCopy } from './MadeCopy';

/** The end of the work: what is still open, what becomes of it, and the fair copies that were made. */
export default function FairCopyPage({ threads }: { threads: readonly Thread[] }) {
  const { info, may } = useOpened();
  const { data: copies, error } = useFairCopies(info.id);
  return (
    <main className="parts">
      <h1 className="heard-only">Fair copy of “{info.title}”</h1>
      <div className="parts-columns">
        <div>
          <EndTabs />
          <Section title="Still open">
            <StillOpen threads={threads} ways />
          </Section>
          {may.decide ? (
            <Making threads={threads} />
          ) : (
            <p className="part-says">
              {info.seal
                ? 'This manuscript is sealed: a fair copy is made once the seal is lifted.'
                : 'A fair copy is made by one who may decide in this manuscript.'}
            </p>
          )}
        </div>
        <Section title="Fair copies">
          {error && (
            <p className="look-problem" role="alert">
              {error.message}
            </p>
          )}
          {copies?.length === 0 && <p className="look-said">None has been made of this manuscript yet.</p>}
          {copies?.map((copy, i) => (
            <MadeCopy key={copy.id} copy={copy} newest={i === 0} />
          ))}
        </Section>
      </div>
    </main>
  );
}
