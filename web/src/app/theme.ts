import { createTheme, type CSSVariablesResolver } from '@mantine/core';

/** A cross says nothing to who hears the page; a dialog that has more to say of closing gives it a name of its own. */
const named = { 'aria-label': 'Close' };

/** One deep glaze green for action; everything else is stoneware and oak, in base.css. */
export const theme = createTheme({
  fontFamily: "'Public Sans Variable', system-ui, sans-serif",
  respectReducedMotion: true,
  headings: { fontFamily: "'Bitter Variable', serif", fontWeight: '700' },
  primaryColor: 'glaze',
  primaryShade: { light: 8, dark: 7 },
  defaultRadius: 8,
  components: {
    // Locking the scroll writes a style element that the page's strict policy refuses.
    // Named, not imported: the first script need not hold them.
    Modal: { defaultProps: { lockScroll: false } },
    Drawer: { defaultProps: { lockScroll: false } },
    CloseButton: { defaultProps: { ...named } },
    // A walk that comes in moves the page under an open menu: the menu stays.
    Popover: { defaultProps: { hideDetached: false } },
  },
  colors: {
    // The library's greys are blue; stoneware is not.
    gray: [
      '#faf7ef',
      '#f1ebdd',
      '#e8e0cf',
      '#ddd3c0',
      '#c9bca6',
      '#a89a86',
      '#8a7d6c',
      '#6b5f54',
      '#463b32',
      '#2b211b',
    ],
    dark: [
      '#f1e8db',
      '#d8ccbc',
      '#b9ab9b',
      '#8f8274',
      '#5c5047',
      '#463b32',
      '#312922',
      '#26201b',
      '#1b1613',
      '#120e0b',
    ],
    glaze: [
      '#e9f5f1',
      '#d3e9e2',
      '#a5d3c5',
      '#85c7b5',
      '#74c4b0',
      '#4a9a87',
      '#2f8271',
      '#247564',
      '#1d6a5b',
      '#12493e',
    ],
  },
});

export const variables: CSSVariablesResolver = () => {
  const shared = {
    '--mantine-color-body': 'var(--jug-ground)',
    '--mantine-color-text': 'var(--jug-ink)',
    '--mantine-color-dimmed': 'var(--jug-dim)',
    '--mantine-color-placeholder': 'var(--jug-dim)',
    '--mantine-color-default': 'var(--jug-surface)',
    '--mantine-color-default-border': 'var(--jug-edge)',
    '--mantine-color-default-hover': 'var(--jug-field)',
    '--mantine-color-default-color': 'var(--jug-ink)',
    '--mantine-color-error': 'var(--jug-brick)',
    '--mantine-color-disabled': 'var(--jug-edge)',
    '--mantine-color-disabled-color': 'var(--jug-dim)',
    '--mantine-color-disabled-border': 'var(--jug-edge)',
  };
  return { variables: {}, light: shared, dark: shared };
};
