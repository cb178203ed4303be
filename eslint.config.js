import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Which folders of core a folder may import from (architecture.md, "Folders"); itself always. */
const coreMayImport = {
  colour: [],
  kernels: ['published'],
  raster: ['colour', 'kernels'],
  shapes: ['raster'],
  surface: ['shapes', 'raster', 'colour', 'livery'],
  projectors: ['surface', 'livery'],
  plates: ['surface', 'projectors', 'raster', 'livery'],
  // Of layers, filters and projectors only what each kind is made of: */data.ts; of texture which formats there are.
  livery: ['colour', 'raster', 'layers', 'filters', 'projectors', 'texture'],
  layers: ['shapes', 'paint', 'projectors', 'surface', 'colour', 'raster', 'livery'],
  filters: ['colour', 'raster', 'livery'],
  paint: ['surface', 'colour', 'raster', 'livery'],
  finish: ['livery', 'colour'],
  depends: ['finish', 'layers', 'livery'],
  compose: [
    'depends',
    'finish',
    'layers',
    'filters',
    'paint',
    'kernels',
    'shapes',
    'surface',
    'colour',
    'raster',
    'livery',
  ],
  published: [],
  texture: ['published', 'kernels', 'colour', 'raster'],
  // Of transfer how a layer is laid like another place.
  kit: ['transfer', 'surface', 'livery'],
  kinds: ['files'],
  languages: ['livery'],
  files: ['raster', 'surface', 'livery', 'shapes'],
  layered: ['kinds', 'compose', 'layers', 'texture', 'livery', 'raster', 'files'],
  intake: ['layered', 'texture', 'languages', 'surface', 'livery', 'raster', 'files'],
  exchange: ['delivery', 'files', 'livery', 'colour'],
  delivery: [
    'games',
    'plates',
    'depends',
    'finish',
    'compose',
    'texture',
    'languages',
    'layers',
    'projectors',
    'shapes',
    'surface',
    'livery',
    'raster',
    'colour',
    'files',
  ],
  bay: ['published'],
  games: ['bay', 'livery'],
};
const folders = Object.keys(coreMayImport);
const coreRules = folders.map((folder) => ({
  files: [`packages/core/src/${folder}/**/*.ts`],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: [
              ...folders.filter((f) => f !== folder && !coreMayImport[folder].includes(f)).map((f) => `**/${f}/*`),
              'node:*',
              'react*',
              '@wet-lacquer/*',
            ],
            message: `core/${folder} may import from: ${coreMayImport[folder].join(', ') || 'nothing else'}.`,
          },
        ],
      },
    ],
  },
}));
/** Loaders read what was delivered by code of their own: they know nothing of what wrote it. */
const loaders = {
  files: ['packages/core/src/games/*/loader.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: [{ regex: '^\\.\\.?/(?!\\.\\./bay/)', message: 'A loader imports from bay/ alone.' }] },
    ],
  },
};

const onlyCore = (name, others) => ({
  files: [`packages/${name}/src/**/*.{ts,tsx}`],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          {
            group: others.map((o) => `@wet-lacquer/${o}/*`),
            message: 'Imports go one way: web, server, cli -> node -> sync -> core.',
          },
        ],
      },
    ],
  },
});

/** Who answers "no" within a transaction must roll it back: transact() has the one way to say it. */
const transactions = {
  files: ['packages/server/src/**/*.ts'],
  ignores: ['packages/server/src/store/db.ts'],
  rules: {
    'no-restricted-syntax': [
      'error',
      {
        selector: "MemberExpression[property.name='transaction']",
        message: 'Use transact(): it rolls back whatever answers no.',
      },
      {
        selector:
          "CallExpression[callee.name='transact'] ReturnStatement Property[key.name='state'][value.value='refused']",
        message: 'Say no(...) here: a returned refusal would be committed.',
      },
    ],
  },
};

export default tseslint.config(
  {
    ignores: [
      '**/dist/',
      'node_modules/',
      '.data/',
      'demo/out/',
      'test-results/',
      'packages/server/drizzle/',
      'packages/core/kernels/',
      '**/*.generated.ts',
    ],
  },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        setInterval: 'readonly',
        clearInterval: 'readonly',
        performance: 'readonly',
        fetch: 'readonly',
      },
    },
  },
  { files: ['packages/web/**/*.{ts,tsx}'], ...hooks.configs.flat.recommended },
  // A component asks, holds, hears keys or draws: what does several of these is several.
  { files: ['packages/web/src/**/*.tsx'], rules: { 'max-lines-per-function': ['error', 200] } },
  { rules: { '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }] } },
  ...coreRules,
  loaders,
  onlyCore('sync', ['web', 'server', 'cli', 'node']),
  onlyCore('node', ['web', 'server', 'cli']),
  onlyCore('web', ['server', 'cli', 'node']),
  onlyCore('server', ['web', 'cli']),
  onlyCore('cli', ['web']),
  transactions,
);
