import { useMemo } from 'react';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { onPlane } from '@wet-lacquer/core/projectors/place.ts';
import { hiddenBy, namesOfParts, SEEN_PAST, type Seen } from '@wet-lacquer/core/surface/behind.ts';
import { partOfTriangle, spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import { surfaceUnder, treeOf } from '@wet-lacquer/core/surface/rays.ts';
import { diagonalOf } from '@wet-lacquer/core/surface/triangles.ts';
import { plus, unit, type Vec } from '@wet-lacquer/core/surface/vectors.ts';
import { Quiet } from '../../parts/text.tsx';
import { useTemplate } from '../context.ts';
import { useLetteringWidth } from '../flat/Handles.tsx';
import { frameOf, outward, type Frame, type Point } from '../flat/placing.ts';

/** Places along either side of a mark's box that are looked at. */
const LOOKS = 16;
/** How far about its plane the surface is looked for, of the model's diagonal. */
const DEPTH = 0.25;

/** What of the model stands before a mark, as it is moved; nothing where it can be seen. */
export function Behind({ layer, sheet }: { layer: Layer; sheet: string }) {
  const template = useTemplate();
  const width = useLetteringWidth(layer);
  const { share, parts } = useMemo(() => {
    const frame = frameOf(layer, width);
    return hiddenBy(template, frame && !template.boards ? spotsOf(layer, frame, template, sheet) : []);
  }, [layer, sheet, template, width]);
  if (share < SEEN_PAST) return null;
  return (
    <Quiet as="p">
      About {Math.round(share * 100)} % of it is behind {namesOfParts(template, parts)}.
    </Quiet>
  );
}

/** Places of the surface that a mark's box covers. */
function spotsOf(layer: Layer, frame: Frame, template: Template, sheet: string): Seen[] {
  const { on } = layer;
  const look: (p: Point) => Omit<Seen, 'weight'> | null =
    on && 'facing' in on ? ontoModel(on, template) : on ? () => null : ontoSheet(template, sheet);
  const spots: Seen[] = [];
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
  return ({ x, y }: Point) => spotOfTexel(surface, x, y);
}

function ontoModel(on: NonNullable<Layer['on']> & { facing: Vec }, template: Template) {
  const tree = treeOf(template);
  const out = unit(on.facing);
  const reach = diagonalOf(template.mesh) * DEPTH;
  return ({ x, y }: Point) => {
    const at = onPlane(on, x, y);
    const found = at && surfaceUnder(tree, at, out, reach);
    const part = found && partOfTriangle(template, found.triangle);
    return part && { position: plus(at!, out, found!.rise), normal: tree.normals[found!.triangle]!, part: part.key };
  };
}
