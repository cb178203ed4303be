/** The guide's pages, as they lie in docs/guide; each is walked through by a test. */
const texts = import.meta.glob<string>('../../../../../docs/guide/*.md', {
  query: '?raw',
  import: 'default',
  eager: true,
});

export interface GuidePage {
  key: string;
  title: string;
  text: string;
}

/** In the order in which they are offered. */
const ORDER = [
  'over-a-finished-skin',
  'one-cell-of-an-atlas',
  'a-set-of-maps',
  'finishes',
  'one-hull-over-several-sheets',
  'on-the-model',
  'plates',
  'a-hard-season',
  'lit-at-night',
  'a-set-for-a-shared-game',
  'from-a-model',
  'for-several-games',
  'onto-another-model',
  'a-team',
  'hand-it-on',
];

export const GUIDE: readonly GuidePage[] = Object.entries(texts)
  .map(([file, text]) => ({
    key: file.replace(/^.*\/|\.md$/g, ''),
    title: /^# (.*)$/m.exec(text)?.[1] ?? file,
    text,
  }))
  .sort((a, b) => ORDER.indexOf(a.key) - ORDER.indexOf(b.key));
