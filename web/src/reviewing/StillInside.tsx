import { counted, openQueries } from '@tea-pencil/core';
import { useThreads } from '../api/queries';
import { useOpened } from '../opened/opened';
import { useReviewed } from './use-reviewing';

/** What whoever gets the text finds in it that is not done yet: said wherever it is handed over. */
export function StillInside({ who }: { who: string }) {
  const { info } = useOpened();
  const { changes } = useReviewed();
  const { data } = useThreads(info.id);
  const open = (data ?? []).filter(({ toSelf, resolved }) => !toSelf && !resolved);
  const queries = open.flatMap(openQueries).length;
  const parts = [
    changes.length > 0 && `${counted(changes.length, 'change')} that ${changes.length === 1 ? 'is' : 'are'} pending`,
    open.length > 0 && `${counted(open.length, 'thread')} that ${open.length === 1 ? 'is' : 'are'} open`,
  ].filter(Boolean);
  return (
    <p className="part-says" role="note">
      {parts.length
        ? `${who} sees ${parts.join(' and ')}${queries ? `, ${counted(queries, 'query', 'queries')} among them` : ''}.`
        : 'Nothing is pending in the text, and no thread is open.'}
    </p>
  );
}
