import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

const tga = { container: 'tga', header: 'legacy', mips: 'none' } as const;
const own = 'courier/wardrobe/courier_{sheet.key}';
const KNOWN = ['coat', 'boots'].flatMap((sheet) => ['', '_n', '_orm'].map((map) => `courier_${sheet}${map}.tga`));

/** A bale mirrors the game's own tree and names, and says in bale.json which archive number it takes. */
export const spec = DeliverySpec.parse({
  schema: 1,
  key: 'ferrywardens-oath',
  version: 1,
  game: 'ferrywardens-oath',
  gameName: 'Ferrywarden’s Oath',
  folder: '',
  files: [
    fileRule({ name: `${own}.tga`, sheets: ['coat', 'boots'], ...tga, format: 'bgr8' }),
    fileRule({ name: `${own}.tga`, sheets: ['hair'], ...tga, format: 'bgra8', alpha: 'needed' }),
    fileRule({ name: `${own}_n.tga`, map: 'normal', ...tga, format: 'bgr8', colourSpace: 'normal' }),
    fileRule({ name: `${own}_orm.tga`, map: 'packed', ...tga, format: 'bgr8', colourSpace: 'linear' }),
  ],
  sidecars: [
    {
      name: 'bale.json',
      language: 'json',
      making: {
        kind: 'template',
        text: `{
  "archive": {{slotNumber}},
  "order": 90,
  "name": {{particulars.name}},
  "author": {{particulars.author}},
  "replaces": [
    {{#files}}
    {{path}}{{^last}},{{/last}}
    {{/files}}
  ]
}
`,
      },
    },
  ],
  readme: { name: 'readme.txt' },
  slot: {
    from: 16,
    to: 99,
    digits: 2,
    called: 'archive number',
    taken: { by: 'package', ending: '.bale', file: 'bale.json', value: 'archive' },
  },
  package: { name: 'bales/90-{livery.key}.over.bale' },
  names: { known: [...KNOWN, 'courier_hair.tga', 'courier_hair_wet.tga', 'courier_hair_mirror.tga'] },
  liveryKey: KEYS,
  maxSide: 4096,
  ground: '#808080',
  before: 'Leave the running session: the game keeps its bales open until then.',
  after: 'Begin a new session; bales are read when it begins.',
});
