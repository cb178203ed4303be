import { InputError } from '../errors.ts';
import type { Livery } from '../livery/livery.ts';
import type { Template } from '../livery/template.ts';
import { DeliverySpec } from '../livery/spec.ts';

/** The delivery specs that come with the product, by key. */
export const SHIPPED_SPECS: Readonly<Record<string, DeliverySpec>> = {
  'brackwater-run': DeliverySpec.parse({
    schema: 1,
    key: 'brackwater-run',
    version: 1,
    game: 'brackwater-run',
    gameName: 'Brackwater Run',
    folder: 'wharf/{craft.key}/{livery.key}/',
    files: [
      {
        map: 'colour',
        name: '{livery.key}_{sheet.key}.dds',
        container: 'dds',
        format: 'bc7',
        header: 'dx10',
        colourSpace: 'srgb',
        mips: 'full',
        mipFilter: 'kaiser',
        flip: false,
        alpha: 'opaque',
        freeClear: false,
        padding: 16,
      },
    ],
    sidecars: [{ name: 'finish.toml', kind: 'finish-toml' }],
    liveryKey: {
      allowed: 'abcdefghijklmnopqrstuvwxyz0123456789-',
      says: 'lower-case letters, digits and hyphens',
      maxLength: 32,
    },
    maxSide: 4096,
    ground: '#808080',
    after: 'In the game, leave the wharf and come back: it reads its folders on arrival.',
  }),
};

/** The delivery spec that a livery is pinned to: the one that its template brings, or a shipped one. @throws InputError when it is not here */
export function specFor(livery: Pick<Livery, 'pins'>, template: Pick<Template, 'ownSpec'>): DeliverySpec {
  const { key, version } = livery.pins.spec;
  const spec = [template.ownSpec, SHIPPED_SPECS[key]].find((s) => s?.key === key && s.version === version);
  if (!spec) throw new InputError(`The delivery spec "${key}", version ${version}, is not here.`);
  return spec;
}
