import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

/** Words are joined by hyphens, and the name's three fields by plus signs. */
const fields = '{livery.key|slug}+{particulars.author|slug}+';

export const spec = DeliverySpec.parse({
  schema: 1,
  key: 'pebblewick',
  version: 1,
  game: 'pebblewick',
  gameName: 'Pebblewick',
  folder: 'skins/',
  files: [
    fileRule({
      name: `${fields}{slot}.png`,
      container: 'png',
      format: 'rgba8',
      mips: 'none',
      alpha: 'keep',
      padding: 0,
    }),
  ],
  sidecars: [],
  slot: { from: 1, to: 9999, digits: 4, called: 'number', taken: { by: 'path', begins: `skins/${fields}{slot}.png` } },
  needs: ['author'],
  liveryKey: KEYS,
  maxSide: 1024,
  ground: '#808080',
  after: 'Choose the skin again in the game’s menu.',
});
