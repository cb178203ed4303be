import { describe, expect, test } from 'vitest';
import { applyEdit, type Edit } from '../livery/edit.ts';
import { LayerId } from '../livery/ids.ts';
import { layerOf, NO_HASH, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { changedSpot, spotRegion } from './changedSpot.ts';

const template = smallTemplate(1024);
const hazard = layerOf('hazard', {
  paint: { hex: '#ffcc00' },
  other: null,
  x: 200,
  y: 300,
  width: 100,
  height: 40,
  turn: 0,
  bar: 10,
  slant: 30,
});
const solid = layerOf('solid', { paint: { scheme: 'red' } });
const brush = layerOf('brush', { strokes: [] });
const livery = smallLivery([solid, hazard, brush], template);

async function spot(edit: Edit) {
  const after = applyEdit(livery, edit).livery;
  const [a, b] = await Promise.all([sourcesFor(livery, template), sourcesFor(after, template)]);
  return changedSpot(livery, after, { before: a, after: b });
}

describe('where a step changed something', () => {
  test('a mark that moved: where it was and where it is', async () => {
    const found = await spot({ do: 'set-layer', layer: hazard.id, set: { x: 600 } });
    expect(found).toMatchObject({ sheet: 'face', map: 'colour' });
    expect(found!.box!.left).toBeLessThanOrEqual(150);
    expect(found!.box!.right).toBeGreaterThanOrEqual(650);
    expect(found!.box!.top).toBeGreaterThan(250);
    expect(found!.box!.bottom).toBeLessThan(350);
  });

  test('a stroke: the tiles that it touched', async () => {
    const stroke = {
      id: 's',
      blob: NO_HASH,
      tiles: [2 + 64],
      how: 'paint' as const,
      opacity: 100,
      paint: { hex: '#000000' },
    };
    const after = applyEdit(livery, { do: 'add-stroke', layer: brush.id, on: 'layer', stroke }).livery;
    const sources = await sourcesFor(livery, template);
    const found = changedSpot(livery, after, { before: sources, after: sources });
    expect(found!.box).toEqual({ left: 512, top: 256, right: 768, bottom: 512 });
  });

  test('a whole surface: all over; a layer that goes: where it was; particulars: nowhere', async () => {
    expect((await spot({ do: 'set-layer', layer: solid.id, set: { opacity: 50 } }))!.box).toBeNull();
    expect((await spot({ do: 'remove-layer', layer: hazard.id }))!.box!.right).toBeLessThan(260);
    expect(await spot({ do: 'set-particular', key: 'number', value: '9' })).toBeNull();
    const moved = await spot({
      do: 'move-layer',
      layer: LayerId.parse(hazard.id),
      sheet: 'face',
      map: 'colour',
      index: 2,
    });
    expect(moved!.map).toBe('colour');
  });
});

describe('the part that is shown', () => {
  const sheet = { width: 1024, height: 1024 };
  const of = (box: { left: number; top: number; right: number; bottom: number } | null) =>
    spotRegion({ sheet: 'face', map: 'colour', box }, sheet, 64, 40);

  test('holds what changed with as much around it, and no more than the sheet', () => {
    const region = of({ left: 500, top: 500, right: 600, bottom: 520 });
    expect(region.x).toBeLessThan(500);
    expect(region.x + 64 * region.step).toBeGreaterThan(600);
    expect(region.step).toBe(4);
    expect(of(null).step).toBe(26);
    // A mark that lies beside the sheet shows the sheet.
    expect(of({ left: 3000, top: 0, right: 3100, bottom: 40 }).step).toBe(26);
  });
});
