import '@fontsource-variable/commissioner';
import '@fontsource-variable/literata';
import '@fontsource-variable/literata/wght-italic.css';
import 'prosemirror-view/style/prosemirror.css';
import './theme/sheet.css';
import './theme/app.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './app/App';

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
