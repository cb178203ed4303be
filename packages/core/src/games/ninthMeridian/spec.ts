import { DeliverySpec } from '../../livery/spec.ts';
import { fileRule, KEYS } from '../rules.ts';

const rule = { format: 'bc3', header: 'legacy', flip: true } as const;

/** Its list of wraps lies in the game's own folder, beside the folder of wraps. */
export const spec = DeliverySpec.parse({
  schema: 1,
  key: 'ninth-meridian',
  version: 1,
  game: 'ninth-meridian',
  gameName: 'Ninth Meridian',
  folder: '',
  files: [
    fileRule({
      name: 'wraps/{livery.key}/{livery.key}_{sheet.key}.dds',
      sheets: ['bow', 'stern', 'wings', 'floats'],
      ...rule,
    }),
    fileRule({ name: 'wraps/{livery.key}/{livery.key}_{sheet.key}.dds', sheets: ['tail'], ...rule, alpha: 'keep' }),
    fileRule({ name: 'wraps/{livery.key}/{livery.key}_{sheet.key}_night.dds', map: 'night', ...rule }),
  ],
  sidecars: [
    {
      name: 'hangar.list',
      language: 'script',
      lineEnds: 'crlf',
      making: {
        kind: 'section',
        begins: 'entry {n} {',
        ends: '}',
        own: '"wraps/{livery.key}/"',
        text: `  title "{{particulars.name}}"
  code "{{livery.key}}"
  wrap "wraps/{{livery.key}}/"
  registration "{{particulars.registration}}"
  thumbnail "wraps/{{livery.key}}/thumbnail.jpg"
`,
      },
    },
  ],
  thumbnail: {
    name: 'wraps/{livery.key}/thumbnail.jpg',
    container: 'jpg',
    width: 320,
    height: 180,
    heading: 292,
    elevation: 12,
  },
  liveryKey: { ...KEYS, maxLength: 24 },
  needs: ['registration'],
  maxSide: 4096,
  ground: '#808080',
  before: 'Leave the aircraft: the simulator holds its wraps open while it flies.',
  after: 'In the simulator, reload the aircraft; it reads its list of wraps then.',
});
