import '@mantine/core/styles.css';
import '@fontsource-variable/bitter/wght.css';
import '@fontsource-variable/public-sans/wght.css';
import './app/base.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './app/App';
import { keepOpenable } from './app/keepOpenable';
import { loadAhead } from './app/screens';

const root = document.getElementById('root');
if (!root) throw new Error('The page has no #root.');
keepOpenable();
loadAhead(window.location.pathname);
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
