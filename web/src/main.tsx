import '@mantine/core/styles.css';
import '@fontsource-variable/bitter/wght.css';
import '@fontsource-variable/public-sans/wght.css';
import './app/base.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './app/App';
import { keepOpenable } from './app/keepOpenable';

const root = document.getElementById('root');
if (!root) throw new Error('The page has no #root.');
keepOpenable();
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
