import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

const rule = { format: 'bc1', header: 'legacy' } as const;
const SHEETS = ['bow', 'middle', 'stern', 'house'];

/** Two sizes of each sheet, under names that the game knows by heart. */
export const spec = DeliverySpec.parse({
  schema: 1,
  key: 'harbour-watch',
  version: 1,
  game: 'harbour-watch',
  gameName: 'Harbour Watch',
  folder: 'liveries/launch-{slot}/',
  files: [
    fileRule({ name: 'launch-{slot}_{sheet.key}.dds', scale: 0.25, ...rule }),
    fileRule({ name: 'launch-{slot}_{sheet.key}_large.dds', ...rule }),
  ],
  sidecars: [],
  slot: { from: 21, to: 39, digits: 2, called: 'slot', taken: { by: 'path', begins: 'liveries/launch-{slot}/' } },
  names: { known: SHEETS.flatMap((sheet) => ['', '_large'].map((size) => `launch-{slot}_${sheet}${size}.dds`)) },
  liveryKey: KEYS,
  maxSide: 4096,
  ground: '#808080',
  before: 'Stop the server: it must not run while its files change.',
  after:
    'Clear the server’s cache and start it again. Other players see the livery only with the same files in the same slot.',
});
