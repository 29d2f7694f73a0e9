import '@fontsource-variable/commissioner';
import '@fontsource-variable/literata';
import '@fontsource-variable/literata/wght-italic.css';
import type { PrintJob } from '@tea-pencil/wire';
import { papers } from './job';
import './printed.css';
import { setPages } from './set-pages';

/** The page that the press opens: it is handed a job, and is the pages then. */

declare global {
  interface Window {
    /** @returns how many pages there are */
    setJob(job: PrintJob): Promise<number>;
  }
}

window.setJob = async (job) => {
  const { width, height } = papers[job.how.paper];
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(`@page { size: ${width}mm ${height}mm; margin: 0 } body { margin: 0 }`);
  document.adoptedStyleSheets = [sheet];
  document.documentElement.lang = job.language;
  document.title = `${job.title} (${job.kind})`;
  const pages = await setPages(document.getElementById('pages')!, job);
  return pages ?? 0;
};
