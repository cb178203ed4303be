import { useEffect, useMemo, useRef, useState } from 'react';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { triangleOnSheet } from '@wet-lacquer/core/surface/triangles.ts';
import type { LayoutIsland } from '@wet-lacquer/core/surface/templateLayout.ts';
import { context2d } from '../../parts/context2d.ts';
import { Stage } from '../../parts/stage.ts';
import { hasWebGl, sheetTexture } from '../../parts/stageTextures.ts';
import { Nothing } from '../../parts/Notice.tsx';
import { ART, INK } from '../../theme.ts';
import type { Showing } from './FlatLayout.tsx';
import { useLooking } from './useLooking.ts';
import { locatorPicture } from '../../parts/islandPaths.ts';

interface Props {
  showing: Showing;
  chosen: readonly number[];
  onChoose(number: number | null, add: boolean): void;
}

/** The model with the locator or its art on it; a click names the island. */
export function LocatedModel({ showing, chosen, onChoose }: Props) {
  const { hash, template, layout } = useLooking();
  // A change that leaves the shape alone leaves the model standing as it is.
  const shape = useMemo(() => shapeOf(template), [template]);
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage | null>(null);
  const pressed = useRef({ x: 0, y: 0 });
  const [able] = useState(hasWebGl);
  const textures = useRef<Map<string, ReturnType<typeof sheetTexture>>>(new Map());

  useEffect(() => {
    if (!able) return;
    const made = new Map(template.sheets.map((sheet) => [sheet.key, sheetTexture(new OffscreenCanvas(4, 4))] as const));
    textures.current = made;
    const standing = new Stage(canvas.current!, template, made, ART.ground);
    stage.current = standing;
    standing.middle(true);
    standing.fill();
    return () => {
      standing.close();
      stage.current = null;
      for (const texture of made.values()) texture.dispose();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the shape stands for the template
  }, [shape, able]);

  useEffect(() => {
    if (!able) return;
    let wanted = true;
    const put = (key: string, picture: OffscreenCanvas) => {
      const texture = textures.current.get(key);
      if (!wanted || !texture) return;
      // A picture of another size needs a texture of its own on the graphics card.
      texture.dispose();
      texture.image = picture as unknown as HTMLCanvasElement;
      texture.needsUpdate = true;
      stage.current?.draw();
    };
    void document.fonts.load('600 40px "Barlow Condensed"').then(() => {
      for (const sheet of template.sheets) {
        if (showing.locator) put(sheet.key, locatorPicture(template, sheet, layout.islands, chosen));
        else void artOf(hash, sheet.key).then((picture) => put(sheet.key, picture));
      }
    });
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the shape stands for the template and its layout
  }, [able, shape, layout.islands.length, showing.locator, chosen]);

  return (
    <section
      aria-label="Turntable"
      style={{ position: 'relative', minWidth: 0, overflow: 'hidden', borderLeft: `1px solid ${INK.line}` }}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`${template.name} on the turntable`}
        style={{ width: '100%', height: '100%', display: 'block', position: 'absolute' }}
        onPointerDown={(event) => (pressed.current = { x: event.clientX, y: event.clientY })}
        onClick={(event) => {
          const { x, y } = pressed.current;
          if (Math.abs(event.clientX - x) + Math.abs(event.clientY - y) > 4) return;
          const spot = stage.current?.spotUnder(event);
          const island = spot?.sheet ? islandAt(template, layout.islands, spot.sheet, spot.u, spot.v, spot.part) : null;
          if (island) onChoose(island.number, event.shiftKey || event.ctrlKey);
        }}
      />
      {!able && <Nothing title="The model cannot be shown">This browser has no WebGL.</Nothing>}
    </section>
  );
}

/** A text that is the same for templates whose models look the same. */
function shapeOf({ parts, sheets, mesh }: Template): string {
  let sum = 0;
  for (const list of [mesh.indices, mesh.uvs, mesh.positions])
    for (const value of list) sum = (Math.imul(sum, 31) + Math.round(value * 4096)) | 0;
  const sizes = sheets.map(({ key, width, height }) => [key, width, height]);
  return JSON.stringify([parts, sizes, sum]);
}

async function artOf(hash: string, sheet: string): Promise<OffscreenCanvas> {
  const picture = new Image();
  picture.src = `/api/templates/${hash}/sheets/${sheet}`;
  await picture.decode();
  const canvas = new OffscreenCanvas(picture.naturalWidth, picture.naturalHeight);
  const context = context2d(canvas);
  context.fillStyle = '#808080';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.drawImage(picture, 0, 0);
  return canvas;
}

/** The island of a part at a point of its sheet (shares of it); where islands lie on one another the part tells them apart. */
function islandAt(
  template: Template,
  islands: readonly LayoutIsland[],
  sheetKey: string,
  u: number,
  v: number,
  part: string,
): LayoutIsland | null {
  const sheet = sheetNamed(template, sheetKey);
  const keys = template.parts.filter((p) => p.name === part).map((p) => p.key);
  const [x, y] = [u * sheet.width, v * sheet.height];
  const holds = (t: number) => {
    const [ax, ay, bx, by, cx, cy] = triangleOnSheet(template.mesh, t, sheet.width, sheet.height);
    const side = (px: number, py: number, qx: number, qy: number) => (qx - px) * (y - py) - (qy - py) * (x - px);
    const [a, b, c] = [side(ax, ay, bx, by), side(bx, by, cx, cy), side(cx, cy, ax, ay)];
    return (a >= -0.5 && b >= -0.5 && c >= -0.5) || (a <= 0.5 && b <= 0.5 && c <= 0.5);
  };
  const inBox = ({ left, top, right, bottom }: LayoutIsland['box']) => x >= left && x < right && y >= top && y < bottom;
  const here = islands.filter(
    (island) => island.sheet === sheetKey && (island.cell ? inBox(island.box) : island.triangles.some(holds)),
  );
  return here.find((island) => island.parts.some((key) => keys.includes(key))) ?? here[0] ?? null;
}
