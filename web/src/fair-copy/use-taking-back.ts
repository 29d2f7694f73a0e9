import { keys } from '../api/keys';
import { useTrying } from '../api/use-asking';
import { useHandler } from '../kit/use-handler';
import { useOpened } from '../opened/opened';

/** Takes back what was decided for a fair copy; why not is said. */
export function useTakingBack(): (copy: string) => Promise<void> {
  const { info, say } = useOpened();
  const attempt = useTrying(keys.drafts(info.id));
  return useHandler(async (copy: string) => {
    if (await attempt('POST', `/manuscripts/${info.id}/fair-copies/${copy}/back`))
      say('Taken back: what was decided for it is pending again.');
  });
}
