/** The library's parts, dressed. */
import { createTheme } from '@mui/material/styles';
import { ART, CONTROL, INK, MONO, ROOMS } from './theme.ts';

/** One room as style sheets read it. */
const inksOf = (room: keyof typeof ROOMS) => ({
  colorScheme: room,
  ...Object.fromEntries(Object.entries(ROOMS[room]).map(([ink, value]) => [`--${ink}`, value])),
});

/** What the library mixes colours from. */
const paletteOf = ({
  room,
  panel,
  text,
  quiet,
  accent,
  onAccent,
  amber,
  red,
  line,
}: (typeof ROOMS)[keyof typeof ROOMS]) => ({
  palette: {
    background: { default: room, paper: panel },
    text: { primary: text, secondary: quiet },
    primary: { main: accent, contrastText: onAccent },
    warning: { main: amber },
    error: { main: red },
    divider: line,
  },
});

/** The outer part of the ring about what has the focus. */
const RING = `0 0 0 5px ${INK.ring}`;
const SEEN =
  ':focus-visible, .MuiButtonBase-root:focus-visible, .MuiInputBase-input:focus-visible, .MuiSelect-select:focus-visible, .Mui-focusVisible';
const SEEN_INSIDE =
  '[role="separator"]:focus-visible, .MuiTab-root:focus-visible, .MuiMenuItem-root:focus-visible, .MuiListItemButton-root:focus-visible';
/** Fields lie on panels: one line is enough. */
const SEEN_IN_FIELDS = '.MuiInputBase-input:focus-visible, .MuiSelect-select:focus-visible';

/** What is pressed, by whatever it is made of. */
const TOUCHED =
  'button, summary, select, input:not([type="checkbox"], [type="radio"], [type="range"]), nav a, a.MuiButtonBase-root, [role="button"], [role="tab"], [role="option"], [role="combobox"], [role^="menuitem"], .MuiCheckbox-root, .MuiRadio-root, label:has(input[type="checkbox"], input[type="radio"]), .MuiInputBase-root';

export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-room' },
  colorSchemes: { dark: paletteOf(ROOMS.dark), light: paletteOf(ROOMS.light) },
  shape: { borderRadius: 2 },
  typography: {
    fontFamily: '"Barlow", sans-serif',
    fontSize: 13,
    body1: { fontSize: 13, lineHeight: 1.4 },
    body2: { fontSize: 13, lineHeight: 1.4 },
    caption: { fontSize: 12, color: INK.quiet },
    h1: { fontSize: 18, fontWeight: 600 },
    h2: { fontSize: 15, fontWeight: 600 },
    h3: { fontSize: 13, fontWeight: 600 },
    button: { fontSize: 13, fontWeight: 600, textTransform: 'none' },
  },
  transitions: {
    duration: {
      shortest: 80,
      shorter: 100,
      short: 120,
      standard: 140,
      complex: 140,
      enteringScreen: 140,
      leavingScreen: 100,
    },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        ':root': { ...inksOf('dark'), '--ground': ART.ground, '--control': '28px', '--spine': '27px' },
        '[data-room="light"]': inksOf('light'),
        'html, body, #root': { height: '100%' },
        body: { overflow: 'hidden', fontVariantNumeric: 'tabular-nums' },
        // Light and dark in one ring: it is seen on panels and on the greys about a sheet. The library takes outlines off its
        // buttons and fields and shows focus by a faint ground; ticks and slides have it on a part of theirs.
        [SEEN]: {
          outline: `2px solid ${INK.accent} !important`,
          outlineOffset: '1px',
          boxShadow: `${RING} !important`,
        },
        // What lies edge to edge with its neighbours has it inside.
        [SEEN_INSIDE]: {
          outline: `2px solid ${INK.accent} !important`,
          outlineOffset: '-2px !important',
          boxShadow: `inset ${RING} !important`,
        },
        [SEEN_IN_FIELDS]: {
          outline: `2px solid ${INK.accent} !important`,
          outlineOffset: '-1px !important',
          boxShadow: 'none !important',
        },
        // What is full of pictures has it above them.
        'div[role="application"]:focus-visible::after': {
          content: '""',
          position: 'absolute',
          inset: 0,
          pointerEvents: 'none',
          outline: `2px solid ${INK.accent}`,
          outlineOffset: '-2px',
          boxShadow: `inset ${RING}`,
        },
        // Where the system sets all colours, what is chosen has an edge, and art keeps its own.
        '@media (forced-colors: active)': {
          '[aria-pressed="true"], [aria-selected="true"], [aria-current="page"], :checked': {
            outline: '2px solid Highlight',
            outlineOffset: '-2px',
          },
          'canvas, img, svg, [data-swatch]': { forcedColorAdjust: 'none' },
        },
        // Fingers need more room than a pointer: WCAG 2.2, 2.5.5. Links in the middle of a text, and what lies upon art, stay as they are.
        '@media (pointer: coarse)': {
          ':root': { '--control': '44px', '--spine': '44px' },
          [TOUCHED]: { minHeight: '44px !important', minWidth: '44px !important', boxSizing: 'border-box !important' },
          '.MuiSelect-select': { display: 'flex !important', alignItems: 'center', justifyContent: 'flex-end' },
          '.MuiOutlinedInput-root .MuiSelect-select': { justifyContent: 'flex-start' },
        },
        '@media (prefers-reduced-motion: reduce)': {
          '*': { animation: 'none !important', transition: 'none !important' },
        },
        '.mono': { fontFamily: MONO },
      },
    },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { variant: 'outlined', color: 'inherit', disableElevation: true },
      styleOverrides: {
        root: {
          minHeight: CONTROL,
          padding: '3px 12px',
          borderColor: INK.edge,
          whiteSpace: 'nowrap',
          '&:hover': { borderColor: INK.text, background: INK.line },
        },
      },
    },
    // Tabs as the right column has them: what is chosen is raised, with its line above.
    MuiTabs: {
      styleOverrides: {
        root: { minHeight: 34, borderBottom: `1px solid ${INK.line}`, background: INK.panel },
        indicator: { display: 'none' },
      },
    },
    MuiTab: {
      styleOverrides: {
        root: {
          minHeight: 34,
          padding: '4px 14px',
          textTransform: 'none',
          fontWeight: 600,
          color: INK.quiet,
          opacity: 1,
          borderTop: '2px solid transparent',
          '&.Mui-selected': { color: INK.text, background: INK.raised, borderTopColor: INK.accent },
        },
      },
    },
    MuiIconButton: { styleOverrides: { root: { borderRadius: 2, padding: 4, minWidth: 28, minHeight: 28 } } },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiDialog: {
      styleOverrides: { paper: { background: INK.raised, border: `1px solid ${INK.edge}`, boxShadow: 'none' } },
    },
    MuiMenu: {
      styleOverrides: { paper: { background: INK.raised, border: `1px solid ${INK.edge}`, boxShadow: 'none' } },
    },
    MuiPopover: {
      styleOverrides: { paper: { background: INK.raised, border: `1px solid ${INK.edge}`, boxShadow: 'none' } },
    },
    MuiMenuItem: { styleOverrides: { root: { minHeight: 30, fontSize: 13 } } },
    MuiTooltip: {
      // What a tip lies over can be pressed all the same.
      defaultProps: { enterDelay: 350, disableInteractive: true },
      styleOverrides: {
        tooltip: { fontSize: 12, background: '#101010', border: `1px solid ${INK.edge}`, borderRadius: 2 },
      },
    },
    MuiOutlinedInput: {
      styleOverrides: {
        root: { background: INK.raised },
        notchedOutline: { borderColor: INK.edge },
        input: { padding: '5px 8px', fontSize: 13 },
      },
    },
    MuiInputLabel: { styleOverrides: { root: { color: INK.quiet } } },
    MuiSlider: {
      styleOverrides: {
        root: { height: 4, padding: '12px 0' },
        thumb: { width: 14, height: 14, background: INK.text, borderRadius: 2 },
        rail: { background: INK.edge, opacity: 1 },
      },
    },
    MuiLinearProgress: { styleOverrides: { root: { height: 6, borderRadius: 2, background: INK.line } } },
  },
});
