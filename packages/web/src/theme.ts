/** Colours and faces of the interface. Greys are neutral (R = G = B) in either light: colour is judged beside them. */

/** What each ink is in the dark room, and in the light one. */
export const ROOMS = {
  dark: {
    room: '#3a3a3a',
    panel: '#2a2a2a',
    deep: '#222222',
    raised: '#343434',
    line: '#4a4a4a',
    edge: '#7d7d7d',
    text: '#ededed',
    quiet: '#b5b5b5',
    accent: '#3fb3a3',
    accentDeep: '#1d4640',
    /** What is well, as words and ticks. */
    good: '#7fe3d5',
    amber: '#e8a33d',
    red: '#ff806d',
    /** Behind a line that was taken out. */
    redDeep: '#4a2724',
    /** About the accent's line where something has the focus: the two are seen on any ground. */
    ring: '#101010',
    /** Words upon the accent. */
    onAccent: '#101010',
    /** What is chosen, in a text that is edited. */
    marked: '#555555',
    word: '#d3c7a8',
    number: '#9fd6cd',
  },
  light: {
    room: '#d4d4d4',
    panel: '#e8e8e8',
    deep: '#f6f6f6',
    raised: '#f1f1f1',
    line: '#b9b9b9',
    edge: '#707070',
    text: '#161616',
    quiet: '#474747',
    accent: '#0b6a5d',
    accentDeep: '#b9e2da',
    good: '#0b5c51',
    amber: '#794600',
    red: '#a31c10',
    redDeep: '#f4cdc7',
    ring: '#ffffff',
    onAccent: '#ffffff',
    marked: '#bdbdbd',
    word: '#6b4e00',
    number: '#0b5c51',
  },
} as const;

type Ink = keyof (typeof ROOMS)['dark'];

/** The inks, for style sheets: they change with the room. On a canvas, and over art, colours stand for themselves: see ART. */
export const INK = Object.fromEntries(Object.keys(ROOMS.dark).map((ink) => [ink, `var(--${ink})`])) as Record<
  Ink,
  string
>;

/** What lies about art and upon it, whatever the room. */
export const ART = {
  /** About a sheet: L* 50. */
  ground: '#777777',
  /** Behind a model. */
  stage: '#6f6f6f',
  /** Lines upon art are light, cased in dark. */
  light: '#ffffff',
  casing: '#101010',
  chosen: '#3fb3a3',
} as const;

/** How high what is pressed or written in is: 28 px, and 44 px for fingers. */
export const CONTROL = 'var(--control)';

export const MONO = '"IBM Plex Mono", monospace';
export const CONDENSED = '"Barlow Condensed", "Barlow", sans-serif';
