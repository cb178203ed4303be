/** Islands, layouts and the locator on meshes whose answers can be worked out by hand, and on the demo's subject. */
import { describe, expect, test } from 'vitest';
import { ciede2000, labOf } from '../colour/ciede2000.ts';
import { Template, type Subject } from '../livery/template.ts';
import { randomFrom } from '../testing/images.ts';
import { demoBytes } from '../testing/scenes.ts';
import { islandsOf } from './islands.ts';
import { densityOf, examineLayout, sheetCover } from './layout.ts';
import { symmetryAxis } from './symmetry.ts';
import { LOCATOR_COLOURS, LOCATOR_DIFFERENCE, locatorOf, neighbours } from './locator.ts';

interface Quad {
  part: string;
  /** Lower left corner and sides in the plane z, metres. */
  at: [x: number, y: number, z: number];
  size: [w: number, h: number];
  /** Left, top, right, bottom on the sheet, 0..1; left > right lays it out mirrored. */
  uv: [l: number, t: number, r: number, b: number];
}

/** Upright rectangles that face +z, each two triangles, on one sheet. */
function quads(list: readonly Quad[], side = 64): Subject {
  const mesh = {
    positions: [] as number[],
    normals: [] as number[],
    uvs: [] as number[],
    indices: [] as number[],
  };
  const parts: Subject['parts'] = [];
  for (const { part, at, size, uv } of list) {
    const base = mesh.positions.length / 3;
    const [x, y, z] = at;
    const [w, h] = size;
    const [l, t, r, b] = uv;
    mesh.positions.push(x, y, z, x + w, y, z, x + w, y + h, z, x, y + h, z);
    mesh.normals.push(...Array.from({ length: 4 }, () => [0, 0, 1]).flat());
    mesh.uvs.push(l, b, r, b, r, t, l, t);
    mesh.indices.push(...[0, 1, 2, 0, 2, 3].map((i) => base + i));
    const known = parts.find((p) => p.key === part);
    if (known) known.count += 2;
    else parts.push({ key: part, name: part, sheet: 'face', first: mesh.indices.length / 3 - 2, count: 2, hex: null });
  }
  return { sheets: [{ key: 'face', name: 'face', width: side, height: side, alpha: 'none', axis: null }], parts, mesh };
}

const kinds = (subject: Subject) => examineLayout(subject, islandsOf(subject)).map((note) => note.kind);

describe('islands', () => {
  test('triangles that share an edge on model and sheet are one; a gap on the sheet parts them', () => {
    const joined = quads([
      { part: 'a', at: [0, 0, 0], size: [1, 1], uv: [0, 0, 0.25, 0.25] },
      { part: 'b', at: [1, 0, 0], size: [1, 1], uv: [0.25, 0, 0.5, 0.25] },
    ]);
    expect(islandsOf(joined).map((i) => [i.parts, i.triangles])).toEqual([
      [
        ['a', 'b'],
        [0, 1, 2, 3],
      ],
    ]);
    const apart = quads([
      { part: 'a', at: [0, 0, 0], size: [1, 1], uv: [0, 0, 0.25, 0.25] },
      { part: 'b', at: [1, 0, 0], size: [1, 1], uv: [0.5, 0, 0.75, 0.25] },
    ]);
    expect(islandsOf(apart).map((i) => [i.number, i.parts, i.box.left])).toEqual([
      [1, ['a'], 0],
      [2, ['b'], 32],
    ]);
  });

  test('a layout folded along a middle line is two islands, one mirrored, and they lie on one another', () => {
    const folded = quads([
      { part: 'starboard', at: [0, 0, 0], size: [1, 1], uv: [0.5, 0, 1, 0.5] },
      { part: 'port', at: [-1, 0, 0], size: [1, 1], uv: [1, 0, 0.5, 0.5] },
    ]);
    const islands = islandsOf(folded);
    expect(islands.map((i) => [i.parts[0], i.mirrored])).toEqual([
      ['starboard', false],
      ['port', true],
    ]);
    const notes = examineLayout(folded, islands);
    expect(notes.map((n) => n.kind)).toEqual(['overlap', 'mirrored', 'bare']);
    expect(notes[0].text).toBe('Islands 1 and 2 (starboard and port) lie on one another.');
    expect(notes[0].means).toMatch(/lettering backwards/);
    expect(notes[1].parts).toEqual(['port']);
  });

  test('normals decide what outside is where the winding says otherwise', () => {
    const subject = quads([{ part: 'a', at: [0, 0, 0], size: [1, 1], uv: [0, 0, 1, 1] }]);
    expect(islandsOf(subject)[0].mirrored).toBe(false);
    const inside = structuredClone(subject);
    inside.mesh.normals = inside.mesh.normals.map((v) => -v);
    expect(islandsOf(inside)[0].mirrored).toBe(true);
  });

  test('area and density follow from the sides', () => {
    const [island] = islandsOf(quads([{ part: 'a', at: [0, 0, 0], size: [2, 4], uv: [0, 0, 0.5, 1] }], 256));
    expect(island.texels).toBeCloseTo(128 * 256, 6);
    expect(island.surface).toBeCloseTo(8, 9);
    expect(densityOf([island])).toBeCloseTo(64, 9);
    expect(densityOf([])).toBeNull();
  });
});

describe('the layout', () => {
  test('a clean one has nothing to say; neighbours that share an edge share no texel', () => {
    const clean = quads([
      { part: 'a', at: [0, 0, 0], size: [1, 1], uv: [0, 0, 0.5, 1] },
      { part: 'b', at: [5, 0, 0], size: [1, 1], uv: [0.5, 0, 1, 1] },
    ]);
    expect(kinds(clean)).toEqual([]);
    const cover = sheetCover(clean, islandsOf(clean), 'face');
    expect(cover.shared).toEqual([]);
    expect(cover.unused).toBe(0);
    // Every texel to exactly one island, split down the middle.
    expect([...cover.island.subarray(0, 64)]).toEqual([...Array<number>(32).fill(1), ...Array<number>(32).fill(2)]);
  });

  test('random triangulations of a square cover every texel exactly once', () => {
    const random = randomFrom(5);
    for (let run = 0; run < 20; run++) {
      // A fan around a random inner point, with random points on the rim.
      const rim = [0, 1, 2, 3].flatMap((side) =>
        [0, random(), random()]
          .sort((a, b) => a - b)
          .map(
            (t) =>
              [
                [t, 0],
                [1, t],
                [1 - t, 1],
                [0, 1 - t],
              ][side],
          ),
      );
      const points = [[0.2 + random() * 0.6, 0.2 + random() * 0.6], ...rim];
      const indices = rim.flatMap((_, i) => [0, 1 + ((i + 1) % rim.length), 1 + i]);
      const subject: Subject = {
        sheets: [{ key: 'face', name: 'face', width: 97, height: 61, alpha: 'none', axis: null }],
        parts: [{ key: 'a', name: 'a', sheet: 'face', first: 0, count: rim.length, hex: null }],
        mesh: {
          positions: points.flatMap(([x, y]) => [x, 1 - y, 0]),
          normals: points.flatMap(() => [0, 0, 1]),
          uvs: points.flat(),
          indices,
        },
      };
      const cover = sheetCover(subject, islandsOf(subject), 'face');
      expect(cover.unused).toBe(0);
      expect(cover.shared).toEqual([]);
    }
  });

  test('UVs outside the sheet are named, and wrap on to what they share texels with', () => {
    const subject = quads([
      { part: 'a', at: [0, 0, 0], size: [1, 1], uv: [0, 0, 0.5, 1] },
      { part: 'b', at: [5, 0, 0], size: [1, 1], uv: [1, 0, 1.5, 1] },
    ]);
    const notes = examineLayout(subject, islandsOf(subject));
    expect(notes.map((n) => n.kind)).toEqual(['overlap', 'outside']);
    expect(notes[1].parts).toEqual(['b']);
  });

  test('a part over twice as coarse as the sheet is named with both figures', () => {
    const subject = quads([
      { part: 'fine', at: [0, 0, 0], size: [1, 1], uv: [0, 0, 0.75, 0.75] },
      { part: 'coarse', at: [5, 0, 0], size: [1, 1], uv: [0.8, 0.8, 0.9, 0.9] },
    ]);
    const note = examineLayout(subject, islandsOf(subject)).find((n) => n.kind === 'coarse')!;
    expect(note.parts).toEqual(['coarse']);
    // 64 texels a side: 6.4 texels per metre there; sqrt((48 * 48 + 6.4 * 6.4) / 2) = 34 over both.
    expect(note.text).toBe('coarse has 6 texels per metre, the sheet usually 34.');
  });

  test('triangles without area on the sheet are counted, and break nothing', () => {
    const subject = quads([
      { part: 'a', at: [0, 0, 0], size: [1, 1], uv: [0, 0, 1, 1] },
      { part: 'line', at: [5, 0, 0], size: [1, 1], uv: [0.5, 0.5, 0.5, 0.5] },
    ]);
    const notes = examineLayout(subject, islandsOf(subject));
    expect(notes.map((n) => [n.kind, n.parts])).toEqual([['smeared', ['line']]]);
    expect(notes[0].text).toMatch(/^2 triangles have no area/);
  });

  test('a triangle that repeats the sheet thousands of times does not hang', () => {
    const subject = quads([{ part: 'a', at: [0, 0, 0], size: [1, 1], uv: [0, 0, 1e7, 1e7] }]);
    expect(kinds(subject)).toEqual(['outside', 'bare']);
  });
});

describe("the demo's skimmer", () => {
  const template = Template.parse(JSON.parse(new TextDecoder().decode(demoBytes('turnstone.template.json'))));
  const islands = islandsOf(template);

  test('has the overlapping pair and the mirrored island that were put into it', () => {
    const notes = examineLayout(template, islands);
    expect(notes.filter((n) => n.kind === 'overlap').length).toBeGreaterThan(0);
    expect(notes.filter((n) => n.kind === 'mirrored').length).toBeGreaterThan(0);
  });

  test('every painted triangle is in one island', () => {
    const all = islands.flatMap((island) => island.triangles);
    expect(new Set(all).size).toBe(all.length);
    const painted = template.parts.filter((p) => p.sheet).reduce((sum, p) => sum + p.count, 0);
    expect(all.length).toBe(painted);
  });
});

describe('the locator', () => {
  test('its colours all differ by 20 in CIEDE2000, and there are enough of them', () => {
    expect(LOCATOR_COLOURS.length).toBeGreaterThanOrEqual(16);
    for (const [i, a] of LOCATOR_COLOURS.entries())
      for (const b of LOCATOR_COLOURS.slice(i + 1))
        expect(ciede2000(labOf(a), labOf(b))).toBeGreaterThanOrEqual(LOCATOR_DIFFERENCE);
  });

  const template = Template.parse(JSON.parse(new TextDecoder().decode(demoBytes('turnstone.template.json'))));
  const random = randomFrom(3);
  // A wall of bricks: each has up to six neighbours on the sheet, and as many on the model.
  const bricks = quads(
    Array.from({ length: 120 }, (_, i) => {
      const row = Math.floor(i / 10);
      const x = ((i % 10) + (row % 2) / 2) / 10.5;
      return {
        part: `brick ${i}`,
        at: [x + random() * 1e-9, row / 12, 0],
        size: [1 / 10.5, 1 / 12],
        uv: [x + 0.002, row / 12 + 0.002, x + 1 / 10.5 - 0.002, (row + 1) / 12 - 0.002],
      } satisfies Quad;
    }),
    512,
  );
  test.each([
    ['the skimmer', template],
    ['a wall of bricks', bricks],
  ] as [string, Subject][])(
    'neighbours on %s differ by at least 20, and each number lies on its island',
    (_n, subject) => {
      const islands = islandsOf(subject);
      const covers = new Map(subject.sheets.map((s) => [s.key, sheetCover(subject, islands, s.key, 1024)]));
      const located = locatorOf(subject, islands, covers);
      const pairs = neighbours(subject, islands, [...covers.values()]);
      expect(pairs.length).toBeGreaterThan(5);
      const lab = new Map(located.map((l) => [l.island.number, labOf(l.colour)]));
      for (const [a, b] of pairs)
        expect(ciede2000(lab.get(a)!, lab.get(b)!)).toBeGreaterThanOrEqual(LOCATOR_DIFFERENCE);
      for (const { island, label, colour, ink } of located) {
        const cover = covers.get(island.sheet)!;
        const sheet = subject.sheets.find((s) => s.key === island.sheet)!;
        const x = Math.floor((label.x * cover.width) / sheet.width);
        const y = Math.floor((label.y * cover.height) / sheet.height);
        const there = cover.island[y * cover.width + x];
        if (label.radius > 0) expect(there).toBe(island.number);
        expect(ciede2000(labOf(colour), labOf(ink))).toBeGreaterThan(35);
      }
    },
  );
});

describe('the symmetry axis', () => {
  const template = Template.parse(JSON.parse(new TextDecoder().decode(demoBytes('turnstone.template.json'))));

  test('of the demo’s sheets is found from the mesh where they have one', () => {
    for (const sheet of template.sheets) {
      const found = symmetryAxis(template, sheet.key);
      if (!found || !sheet.axis) continue;
      expect(found.kind).toBe(sheet.axis.kind);
      expect(Math.abs(found.at - sheet.axis.at)).toBeLessThanOrEqual(1);
    }
    expect(template.sheets.some((sheet) => sheet.axis && symmetryAxis(template, sheet.key))).toBe(true);
  });

  test('a sheet laid out without symmetry has none', () => {
    const random = randomFrom(9);
    const askew = quads(
      Array.from({ length: 12 }, (_, i) => ({
        part: `q${i}`,
        at: [random() * 9, random() * 9, random()],
        size: [1, 1],
        uv: [i / 12, random() / 2, (i + 0.8) / 12, 0.5 + random() / 2],
      })),
    );
    expect(symmetryAxis(askew, 'face')).toBeNull();
  });
});
