import { useMemo } from 'react';
import { dataOf, type Layer } from '@wet-lacquer/core/livery/layer.ts';
import { CAPITAL } from '@wet-lacquer/core/delivery/checks/tooThin.ts';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { onPlane } from '@wet-lacquer/core/projectors/place.ts';
import { hiddenBy, namesOfParts, SEEN_PAST, type Seen } from '@wet-lacquer/core/surface/behind.ts';
import { grainUnder, SEEN_STRETCHED, sideFor } from '@wet-lacquer/core/surface/grain.ts';
import { sharedBy } from '@wet-lacquer/core/surface/sharedBy.ts';
import { partOfTriangle, spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import { surfaceUnder, treeOf } from '@wet-lacquer/core/surface/rays.ts';
import { diagonalOf } from '@wet-lacquer/core/surface/triangles.ts';
import { plus, unit, type Vec } from '@wet-lacquer/core/surface/vectors.ts';
import { Quiet } from '../../parts/text.tsx';
import { useTemplate } from '../context.ts';
import { useLetteringWidth } from '../flat/Handles.tsx';
import { outward, type Frame, type Point } from '../flat/placing.ts';

/** Places along either side of a mark's box that are looked at. */
const LOOKS = 16;
/** How far about its plane the surface is looked for, of the model's diagonal. */
const DEPTH = 0.25;

/** How fine the texels are under a mark as it is moved, and what of the model stands before it. */
export function Behind({ layer, sheet }: { layer: Layer; sheet: string }) {
  const template = useTemplate();
  const width = useLetteringWidth(layer);
  const { share, parts, says, also } = useMemo(() => {
    const frame = dataOf(layer).frame(layer, width);
    const spots = frame && !template.boards ? spotsOf(layer, frame, template, sheet) : [];
    return { ...hiddenBy(template, spots), says: grainSays(layer, template, spots), also: alsoSays(template, spots) };
  }, [layer, sheet, template, width]);
  return (
    <>
      {says && <Quiet as="p">{says}</Quiet>}
      {also && <Quiet as="p">{also}</Quiet>}
      {share >= SEEN_PAST && (
        <Quiet as="p">
          About {Math.round(share * 100)} % of it is behind {namesOfParts(template, parts)}.
        </Quiet>
      )}
    </>
  );
}

/** Where else on the model the same texels show. */
function alsoSays(template: Template, spots: readonly Spot[]): string | null {
  const found = sharedBy(template, spots).filter(({ share }) => share >= SEEN_PAST);
  if (found.length === 0) return null;
  const words = found.slice(0, 3).map(({ part, backwards }) => {
    const name = namesOfParts(template, [part]);
    return backwards ? `${name}, backwards` : name;
  });
  return `Also shows on ${words.join('; on ')}${found.length > 3 ? '; and elsewhere' : ''}.`;
}

/** How fine the texels are where a mark lies, what that makes of it, and how far it is stretched there. */
function grainSays(layer: Layer, template: Template, spots: readonly Spot[]): string | null {
  const flat = layer.on?.kind === 'flat' ? unit(layer.on.facing) : null;
  const facing = (normal: Vec) => (layer.on ? (flat ?? normal) : null);
  const grain = grainUnder(
    template,
    spots.map(({ triangle, normal, weight }) => ({ triangle, normal, weight, facing: facing(normal) })),
  );
  if (!grain) return null;
  const perCm = 0.01 / grain.size;
  const words = [`${perCm < 10 ? perCm.toFixed(1) : Math.round(perCm)} texels a centimetre here`];
  const high = layer.kind === 'lettering' ? layer.size * (layer.on ? layer.on.scale / grain.size : 1) : null;
  if (high !== null) words.push(`its capitals are ${high < 20 ? high.toFixed(1) : Math.round(high)} texels high`);
  if (grain.stretch >= SEEN_STRETCHED) words.push(`it is stretched ${grain.stretch.toFixed(1)} times`);
  const { width, height } = sheetNamed(template, grain.sheet);
  const side = high !== null && high < CAPITAL ? sideFor(Math.max(width, height), high, CAPITAL) : 0;
  return `${words.join('; ')}.${side > 0 ? ` To be read it would need a sheet of ${side}.` : ''}`;
}

type Spot = Seen & { triangle: number };

/** Places of the surface that a mark's box covers. */
function spotsOf(layer: Layer, frame: Frame, template: Template, sheet: string): Spot[] {
  const { on } = layer;
  const look: (p: Point) => Omit<Spot, 'weight'> | null =
    on && 'facing' in on ? ontoModel(on, template) : on ? () => null : ontoSheet(template, sheet);
  const spots: Spot[] = [];
  for (let j = 0; j < LOOKS; j++)
    for (let i = 0; i < LOOKS; i++) {
      const [u, v] = [(i + 0.5) / LOOKS - 0.5, (j + 0.5) / LOOKS - 0.5];
      const spot = look(outward(frame, u * frame.width, v * frame.height));
      if (spot) spots.push({ ...spot, weight: 1 });
    }
  return spots;
}

function ontoSheet(template: Template, sheet: string) {
  if (!template.parts.some((part) => part.sheet === sheet)) return () => null;
  const surface = surfaceOf(template, sheet);
  return ({ x, y }: Point) => {
    const spot = spotOfTexel(surface, x, y);
    return spot && { ...spot, triangle: surface.laid.triangle[surface.rankUnder(x, y)] };
  };
}

function ontoModel(on: NonNullable<Layer['on']> & { facing: Vec }, template: Template) {
  const tree = treeOf(template);
  const out = unit(on.facing);
  const reach = diagonalOf(template.mesh) * DEPTH;
  return ({ x, y }: Point) => {
    const at = onPlane(on, x, y);
    const found = at && surfaceUnder(tree, at, out, reach);
    const part = found && partOfTriangle(template, found.triangle);
    const triangle = found?.triangle ?? 0;
    const normal = tree.normals[triangle];
    return part && normal && { position: plus(at!, out, found!.rise), normal, part: part.key, triangle };
  };
}
