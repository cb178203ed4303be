import { fillIn, layersIn, type Livery } from '../livery/livery.ts';
import { SHIPPED_FONTS } from '../livery/fonts.ts';
import type { DeliverySpec } from '../livery/spec.ts';
import type { Template } from '../livery/template.ts';
import type { Credit } from './target.ts';

/** Licence of the faces that are shipped, by the package that they come from; all others have the Open Font License. */
const APACHE = new Set(['roboto-slab', 'yellowtail']);

/** Who made the livery, for what, and where everything borrowed in it comes from. */
export function readmeOf(
  livery: Livery,
  template: Pick<Template, 'name'>,
  spec: DeliverySpec,
  credits: readonly Credit[],
): string {
  const said = (key: string) => fillIn(livery.particulars[key] ?? '', livery.particulars).trim();
  const author = said('author') || said('team');
  const fonts = new Set(layersIn(livery).flatMap((layer) => (layer.kind === 'lettering' ? [layer.font] : [])));
  const faces = [...fonts].sort().map((key) => {
    const name = SHIPPED_FONTS.find((font) => font.key === key)?.name ?? key;
    return `- ${name}: lettering, ${APACHE.has(key) ? 'Apache License 2.0' : 'SIL Open Font License 1.1'}`;
  });
  const marks = credits.map(({ name, origin, licence }) => `- ${name}: ${origin}, ${licence}`);
  const borrowed = [...marks, ...faces];
  return [
    said('name') || said('key'),
    `${template.name}, for ${spec.gameName}`,
    ...(author ? [`Painted by ${author}`] : []),
    '',
    ...(borrowed.length ? ['Borrowed:', ...borrowed] : ['Nothing in it is borrowed.']),
    '',
    spec.after,
    '',
  ].join('\n');
}
