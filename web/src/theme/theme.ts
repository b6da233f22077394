import { createTheme, type MantineColorsTuple } from '@mantine/core';

/** Ten shades from light to dark, as Mantine wants them; the named colour of the house is number 6. */
const velvet: MantineColorsTuple = [
  '#f5eff8',
  '#e5dbea',
  '#cbb6d4',
  '#b08fbe',
  '#956fa6',
  '#7a5390',
  '#4b3059',
  '#3b2547',
  '#2c1a33',
  '#1b0f20',
];
const marigold: MantineColorsTuple = [
  '#fff7e3',
  '#ffecc4',
  '#ffd98c',
  '#fdc452',
  '#f8b325',
  '#f4a90e',
  '#f0a202',
  '#c28100',
  '#8f5e00',
  '#5c3c00',
];
const spruce: MantineColorsTuple = [
  '#e8f6f5',
  '#cfe9e7',
  '#9fd2ce',
  '#6cb9b4',
  '#449f99',
  '#2c857f',
  '#1f6f6b',
  '#175854',
  '#10413e',
  '#0a2b29',
];
const cranberry: MantineColorsTuple = [
  '#fdecef',
  '#f8d3d9',
  '#eea3ae',
  '#e37183',
  '#d4495f',
  '#c42f48',
  '#b3243b',
  '#911a2e',
  '#6d1121',
  '#490914',
];

/** Palette, type and spacing of the whole app; the same colours stand as CSS variables in styles.css. */
export const theme = createTheme({
  respectReducedMotion: true,
  colors: { velvet, marigold, spruce, cranberry },
  primaryColor: 'velvet',
  primaryShade: { light: 6, dark: 4 },
  fontFamily: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif",
  fontFamilyMonospace: "'Atkinson Hyperlegible Mono Variable', ui-monospace, monospace",
  headings: { fontFamily: "'Bricolage Grotesque Variable', system-ui, sans-serif", fontWeight: '650' },
  defaultRadius: 'md',
  cursorType: 'pointer',
  autoContrast: true,
  components: {
    // Its arrows are too small to touch; keys and typing do the same.
    NumberInput: { defaultProps: { hideControls: true } },
    // A cross says nothing to who does not see it.
    Modal: { defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } },
    Notification: { defaultProps: { closeButtonProps: { 'aria-label': 'Close this message' } } },
  },
});
