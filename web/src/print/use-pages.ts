import { useEffect, useRef, useState } from 'react';
import type { PrintJob } from '@tea-pencil/wire';
import { papers } from '../pages/job';
import styles from '../pages/printed.css?inline';
import { setPages } from '../pages/set-pages';

/** How far the setting of pages is: where it goes on, how many of how many are done. */
export interface SettingPages {
  pages: number | null;
  done: number;
  stopped: boolean;
  problem: string | null;
}

const begun: SettingPages = { pages: null, done: 0, stopped: false, problem: null };

/**
 * Where pages are set within an element: apart from how the app draws texts, so that they come out as the press draws
 * them, which has nothing but the styles of pages.
 */
function pagesIn(host: HTMLElement): HTMLElement {
  if (host.shadowRoot) return host.shadowRoot.firstElementChild as HTMLElement;
  const root = host.attachShadow({ mode: 'open' });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(`:host { all: initial; display: block } ${styles}`);
  root.adoptedStyleSheets = [sheet];
  return root.appendChild(document.createElement('div'));
}

/** Sets a job in pages within an element, anew where it changes. */
export function usePages(job: PrintJob | null) {
  const place = useRef<HTMLDivElement>(null);
  const [state, setState] = useState(begun);
  const stop = useRef<() => void>(() => undefined);
  useEffect(() => {
    if (!place.current || !job) return;
    const into = pagesIn(place.current);
    let stopped = false;
    stop.current = () => {
      stopped = true;
      setState((now) => ({ ...now, stopped: true }));
    };
    // The screen says that it is under way before the work begins.
    const timer = setTimeout(() => {
      setState(begun);
      setPages(into, job, {
        tell: (done) => !stopped && setState((now) => ({ ...now, done })),
        isStopped: () => stopped,
      }).then(
        (pages) => !stopped && setState((now) => ({ ...now, pages })),
        (problem: unknown) => {
          console.error(problem);
          if (!stopped) setState({ ...begun, problem: 'The pages could not be set. The text is as it was.' });
        },
      );
    }, 60);
    return () => {
      stopped = true;
      clearTimeout(timer);
    };
  }, [job]);
  usePaper(job);
  return { place, ...state, stop: () => stop.current() };
}

/** The size of the paper, for as long as there are pages of it (CSS Paged Media 3, 7.1). */
function usePaper(job: PrintJob | null): void {
  const paper = job?.how.paper;
  useEffect(() => {
    if (!paper) return;
    const { width, height } = papers[paper];
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(`@page { size: ${width}mm ${height}mm; margin: 0 }`);
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
    return () => {
      document.adoptedStyleSheets = document.adoptedStyleSheets.filter((one) => one !== sheet);
    };
  }, [paper]);
}
