import { useStore } from '../kit/store';
import { isAtLeast, useWidth } from '../kit/width';
import { useLooking, useOpened } from '../opened/opened';

/** Whether there is no room beside the sheet: threads come from below then, and tools stand behind the button of the bar. */
export function useNoMargin(): boolean {
  const { panels } = useOpened();
  const { look } = useLooking();
  const width = useWidth();
  const beside = useStore(panels, (all) => all.has('look'));
  return !isAtLeast(width, 'middle') || (width === 'middle' && look.outline) || beside;
}
