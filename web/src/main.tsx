import { nonce } from './theme/nonce'; // first: others look for it as soon as they are loaded
import '@fontsource-variable/commissioner';
import '@fontsource-variable/literata';
import '@fontsource-variable/literata/wght-italic.css';
import 'prosemirror-view/style/prosemirror.css';
import './theme/sheet.css';
import './theme/tables.css';
import './theme/things.css';
import './theme/carried.css';
import './theme/drawing.css';
import './theme/ledger.css';
import './theme/drafts.css';
import './theme/last-look.css';
import './theme/fair-copy.css';
import './theme/house-style.css';
import './theme/ink.css';
import './theme/presence.css';
import './theme/talk.css';
import './theme/remark.css';
import './theme/talk-pages.css';
import './theme/app.css';
import './theme/read-through.css';
import './theme/desk.css';
import './theme/pages.css';
import './theme/narrow.css';
import './theme/print.css';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './app/App';

// A page of before the server was renewed asks for parts that are gone; the new page has them.
addEventListener('vite:preloadError', () => navigator.onLine && location.reload());

const styles = createCache({ key: 'tp', nonce });

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <CacheProvider value={styles}>
      <App />
    </CacheProvider>
  </StrictMode>,
);
