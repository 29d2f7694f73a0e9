import { formatDistanceToNow } from 'date-fns';
import { useDeleted } from '../api/queries';
import { keys } from '../api/keys';
import { useAsking } from '../api/use-asking';
import { Section } from '../kit/Section';
import { said } from '../kit/time';
import { PartLine } from '../people/PartLine';

/** What was deleted and can be brought back; nothing is shown where there is none. */
export function Deleted() {
  const deleted = useDeleted();
  const ask = useAsking(keys.desk);
  if (!deleted.data?.length) return null;
  return (
    <div style={{ marginTop: 40, maxWidth: 780 }}>
      <Section
        title="Deleted"
        says="Nobody sees these any more. Their keepers can bring them back until they go for good."
      >
        <div className="part-lines">
          {deleted.data.map(({ id, title, byName, at, goesAt }) => (
            <PartLine
              key={id}
              name={title}
              note={`by ${byName}, ${said(at)}; goes ${formatDistanceToNow(new Date(goesAt), { addSuffix: true })}`}
            >
              <button
                type="button"
                className="plain-button"
                onClick={() => void ask('POST', `/deleted/${id}/back`).catch(() => undefined)}
              >
                Bring back
              </button>
            </PartLine>
          ))}
        </div>
      </Section>
    </div>
  );
}
