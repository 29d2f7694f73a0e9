import { useQuery } from '@tanstack/react-query';
import type { Node } from 'prosemirror-model';
import { useCallback, useMemo } from 'react';
import type { DecidedAt } from '@tea-pencil/wire';
import { decidedAt } from '../api/last-look';
import { keys } from '../api/keys';
import { useHandler } from '../kit/use-handler';
import { useOpened } from '../opened/opened';
import type { Found } from './found';
import { placesOf } from './places';

/** Kinds that a decision can leave behind. */
const kinds: ReadonlySet<string> = new Set([
  'repeated',
  'spaces',
  'punctuation',
  'sentence',
  'pairs',
  'empty',
  'spelling',
]);
/** So many places are asked about. */
const most = 200;

/**
 * Which decisions have left findings behind. Those of pending changes say so themselves.
 * @param doc the text that was looked at; null where nobody is shown what is found
 */
export function useDecidedAt(findings: readonly Found[], doc: Node | null): (finding: Found) => DecidedAt | null {
  const { info, text } = useOpened();
  const asked = useMemo(
    () => findings.filter(({ kind, change }) => !change && kinds.has(kind)).slice(0, most),
    [findings],
  );
  const told = asked.map(({ key }) => key).join('\n');
  const ask = useHandler(async () => {
    const version = text.keptVersion();
    const now = text.snapshot().state?.doc;
    if (version === null || !doc || now !== doc) throw new Error('The text is on its way.');
    const places = asked.map((finding) => {
      const ranges = placesOf(doc, finding);
      return { from: ranges[0]!.from, to: ranges[ranges.length - 1]!.to };
    });
    const all = await decidedAt(info.id, { version, places });
    return new Map(asked.map(({ key }, i) => [key, all[i] ?? null]));
  });
  const { data } = useQuery({
    queryKey: [...keys.ledger(info.id), 'decided at', told],
    enabled: asked.length > 0 && doc !== null,
    // Only once all that was written here is kept does the server know the text as it is here.
    retry: 30,
    retryDelay: 1000,
    queryFn: ask,
  });
  // Another function when the answer has come: whoever shows it draws it anew.
  return useCallback((finding: Found) => data?.get(finding.key) ?? null, [data]);
}
