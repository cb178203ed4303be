import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

/** All sails share the game's own atlas; the painted cell goes into it, and no other block changes. */
export const spec = DeliverySpec.parse({
  schema: 1,
  key: 'tollbarge',
  version: 1,
  game: 'tollbarge',
  gameName: 'Tollbarge',
  folder: 'barges/',
  files: [fileRule({ name: 'sails.dds', format: 'bc1', header: 'legacy', padding: 0, inPlace: true })],
  sidecars: [],
  liveryKey: KEYS,
  maxSide: 1024,
  ground: '#808080',
  after: 'Leave the harbour and come back.',
});
