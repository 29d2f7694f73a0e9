import { createContext, useContext, useMemo, useRef, useState, type MouseEvent } from 'react';

/**
 * The rule for the keyboard, kept here alone: a button pressed with the mouse leaves the keyboard where it is; what opens
 * over the page gives it back to where it was; and where that is gone, the text gets it. It never falls to the page.
 */

/** What opens over the page and takes the keyboard for a while. */
const over = '.MuiPopover-root, .MuiDialog-root, .MuiDrawer-root';

export class FocusRule {
  #last: HTMLElement | null = null;

  /** @param toText puts the keyboard into the text */
  constructor(readonly toText: () => void) {}

  /** Follows where the keyboard is, until the returned function is called. */
  watch = (): (() => void) => {
    const came = ({ target }: FocusEvent) => {
      if (target instanceof HTMLElement && !target.closest(over)) this.#last = target;
    };
    const pressed = (event: globalThis.MouseEvent) => {
      const target = event.target instanceof Element ? event.target : null;
      if (target?.closest('button') && !target.closest('.ProseMirror')) event.preventDefault();
    };
    document.addEventListener('focusin', came);
    document.addEventListener('mousedown', pressed);
    return () => {
      document.removeEventListener('focusin', came);
      document.removeEventListener('mousedown', pressed);
    };
  };

  /** Whether the keyboard has gone on meanwhile: nothing takes it away again. */
  #hasGoneOn(): boolean {
    const { activeElement } = document;
    return !!activeElement && activeElement !== document.body && !activeElement.closest(over);
  }

  /** Gives the keyboard to the text, when something has closed that is not gone back to. */
  giveToText = (): void => {
    if (!this.#hasGoneOn()) this.toText();
  };

  /** Gives the keyboard back to where it was before something opened. */
  giveBack = (): void => {
    if (this.#hasGoneOn()) return;
    const last = this.#last;
    if (!last?.checkVisibility() || last.closest('.ProseMirror')) this.toText();
    else last.focus();
  };
}

export const FocusRuleContext = createContext<FocusRule | null>(null);
export const useFocusRule = (): FocusRule | null => useContext(FocusRuleContext);

/** What a menu or popover over the page needs so as to keep to the rule. */
export function usePopRule(exited?: () => void) {
  const rule = useFocusRule();
  return {
    transitionDuration: 0,
    ...(rule && { disableRestoreFocus: true }),
    onExited: () => {
      rule?.giveBack();
      exited?.();
    },
  };
}

/** Something that opens under a button. */
export function usePop() {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const isOpen = useRef(false);
  const chosen = useRef<(() => void) | null>(null);
  const { onExited, ...rule } = usePopRule(() => {
    const act = chosen.current;
    chosen.current = null;
    act?.();
  });
  const to = useMemo(
    () => ({
      open: (event: MouseEvent<HTMLElement>) => {
        isOpen.current = true;
        setAt(event.currentTarget);
      },
      /**
       * Closes it. What was chosen is done once it has gone: only then the keyboard can be elsewhere. While it goes nothing
       * more can be chosen.
       * @param atOnce what is done before
       */
      close: (act?: () => void, atOnce?: () => void) => {
        if (!isOpen.current) return;
        isOpen.current = false;
        atOnce?.();
        chosen.current = act ?? null;
        setAt(null);
      },
    }),
    [],
  );
  return {
    at,
    ...to,
    props: { anchorEl: at, open: !!at, onClose: () => to.close(), ...rule },
    transition: { onExited },
  };
}
