import { useLayoutEffect, useRef, type FocusEvent, type RefObject } from 'react';

/**
 * What has the keyboard in a list goes with what it was about: then the list keeps it, and it does not fall to the page.
 * @param now what the list shows; whenever it is another, it is looked where the keyboard is
 */
export function useKeepingFocus(box: RefObject<HTMLElement | null>, now: unknown) {
  const inside = useRef(false);
  useLayoutEffect(() => {
    if (inside.current && document.activeElement === document.body) box.current?.focus({ preventScroll: true });
  }, [box, now]);
  return {
    onFocus: () => (inside.current = true),
    onBlur: ({ relatedTarget }: FocusEvent) => {
      // Of an element that is taken away nobody says where the keyboard goes.
      if (relatedTarget) inside.current = !!box.current?.contains(relatedTarget as Node);
    },
  };
}
