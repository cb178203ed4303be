import { beforeAll, describe, expect, test } from 'vitest';
import { Template } from '../livery/template.ts';
import { demoBytes, insideOf, smallTemplate } from '../testing/scenes.ts';
import { randomFrom } from '../testing/images.ts';
import { uvLines } from './guides.ts';
import { placesOf } from './places.ts';
import { partOfTriangle, spotOfTexel } from './locate.ts';
import { nearestInside } from '../raster/nearest.ts';
import { boxOfPlaces, GUTTER, SheetSurface } from './surface.ts';

describe('a small template', () => {
  const surface = new SheetSurface(smallTemplate(64), 'face');

  test('inside is the islands, owners are their parts, gutters go to the nearest', () => {
    const at = (x: number, y: number) => ({ inside: surface.insideAt(x, y), owner: surface.ownerAt(x, y) });
    expect(at(20, 32)).toEqual({ inside: true, owner: 1 });
    expect(at(40, 32)).toEqual({ inside: true, owner: 2 });
    expect(at(15, 32)).toEqual({ inside: false, owner: 1 });
    expect(at(50, 32)).toEqual({ inside: false, owner: 2 });
    expect(insideOf(smallTemplate(64), 'face').reduce((a, b) => a + b, 0)).toBe(32 * 32);
  });

  test('the box of a part is its island with the gutter', () => {
    expect(boxOfPlaces(smallTemplate(64), 'face', ['left'])).toEqual({
      left: 16 - GUTTER,
      top: 16 - GUTTER,
      right: 32 + GUTTER + 1,
      bottom: 48 + GUTTER + 1,
    });
  });

  test('the wire has every edge once, the seams only those of one triangle', () => {
    const { wire, seams } = uvLines(smallTemplate(64), 'face');
    // Two squares with a diagonal each share one edge: 5 + 5 - 1 lines; the outline is a rectangle of 6.
    expect(wire.length / 4).toBe(9);
    expect(seams.length / 4).toBe(6);
  });

  test('islands that lie on one another keep their seams: they share UVs, not places on the model', () => {
    const template = smallTemplate(64);
    const over = structuredClone(template);
    const { mesh } = over;
    const shift = mesh.positions.length / 3;
    mesh.positions.push(...template.mesh.positions.map((v, i) => (i % 3 === 2 ? v - 5 : v)));
    mesh.normals.push(...template.mesh.normals);
    mesh.uvs.push(...template.mesh.uvs);
    mesh.indices.push(...template.mesh.indices.map((i) => i + shift));
    over.parts.push({ key: 'behind', name: 'behind', sheet: 'face', first: 4, count: 4, hex: null });
    const { wire, seams } = uvLines(over, 'face');
    expect(wire.length / 4).toBe(9);
    expect(seams.length / 4).toBe(12);
  });

  test('a texel is found on the model, and the gutter is not', () => {
    const spot = spotOfTexel(surface, 24, 32)!;
    expect(spot.part).toBe('left');
    expect(spot.position[0]).toBeCloseTo(0.5, 6);
    expect(spot.position[1]).toBeCloseTo(0.5, 6);
    expect(spot.normal).toEqual([0, 0, 1]);
    expect(spotOfTexel(surface, 4, 4)).toBeNull();
  });
});

test('the nearest inside texel is the nearest by brute force', () => {
  const random = randomFrom(3);
  for (const [width, height] of [
    [24, 17],
    [9, 31],
  ]) {
    const inside = Uint8Array.from({ length: width * height }, () => (random() < 0.04 ? 1 : 0));
    inside[5] = 1;
    const nearest = nearestInside(inside, width, height);
    const distance = (i: number, j: number) =>
      ((i % width) - (j % width)) ** 2 + (Math.floor(i / width) - Math.floor(j / width)) ** 2;
    for (let i = 0; i < inside.length; i++) {
      let least = Infinity;
      inside.forEach((is, j) => {
        if (is) least = Math.min(least, distance(i, j));
      });
      expect(inside[nearest[i]]).toBe(1);
      expect(distance(i, nearest[i])).toBe(least);
    }
  }
});

test('asked for near ones only, every texel that has one so near gets the same answer', () => {
  const random = randomFrom(8);
  const [width, height] = [70, 50];
  let told = 0;
  for (let round = 0; round < 12; round++) {
    const inside = new Uint8Array(width * height);
    for (let k = 0; k < 5; k++) {
      const [left, top, w, h] = [random() * width, random() * height, 1 + random() * 20, 1 + random() * 12].map(
        Math.floor,
      );
      for (let y = top; y < Math.min(height, top + h); y++)
        for (let x = left; x < Math.min(width, left + w); x++) inside[y * width + x] = 1;
    }
    const [all, near] = [nearestInside(inside, width, height), nearestInside(inside, width, height, 6)];
    for (let i = 0; i < inside.length; i++) {
      const far = ((i % width) - (all[i] % width)) ** 2 + (Math.floor(i / width) - Math.floor(all[i] / width)) ** 2;
      if (inside[i] || far > 36) continue;
      if (near[i] !== all[i]) expect([i, near[i]]).toEqual([i, all[i]]);
      told++;
    }
  }
  expect(told).toBeGreaterThan(3000);
});

test('a sheet without islands has no nearest texel', () => {
  expect([...nearestInside(new Uint8Array(12), 4, 3)]).toEqual(new Array(12).fill(-1));
});

describe('the Turnstone', () => {
  let template: Template;
  beforeAll(() => {
    template = Template.parse(JSON.parse(new TextDecoder().decode(demoBytes('turnstone.template.json'))));
  });

  test('parts follow one another without gaps, and every triangle has one', () => {
    let next = 0;
    for (const part of template.parts) {
      expect(part.first).toBe(next);
      next += part.count;
    }
    expect(next).toBe(template.mesh.indices.length / 3);
    expect(partOfTriangle(template, 0)?.key).toBe('port-side');
    expect(partOfTriangle(template, next)).toBeNull();
  });

  test('every painted triangle lies in its sheet', () => {
    for (const part of template.parts.filter((p) => p.sheet)) {
      for (let k = part.first * 3; k < (part.first + part.count) * 3; k++) {
        const v = template.mesh.indices[k] * 2;
        for (const c of [template.mesh.uvs[v], template.mesh.uvs[v + 1]]) {
          expect(c).toBeGreaterThanOrEqual(0);
          expect(c).toBeLessThanOrEqual(1);
        }
      }
    }
  });

  test('one pair of parts overlaps and one island is mirrored, on purpose (scenario of the demo world)', () => {
    const boxes = placesOf(template, 'hull');
    const [a, b] = ['skirt', 'skirt-port'].map((key) => boxes.find((box) => box.keys[0] === key)!);
    expect(a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom).toBe(true);
    const signed = (key: string) => {
      const part = template.parts.find((p) => p.key === key)!;
      let area = 0;
      for (let t = part.first; t < part.first + part.count; t++) {
        const [p, q, r] = [0, 1, 2]
          .map((k) => template.mesh.indices[t * 3 + k] * 2)
          .map((i) => [template.mesh.uvs[i], template.mesh.uvs[i + 1]]);
        area += (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
      }
      return Math.sign(area);
    };
    expect(signed('skirt')).toBe(-signed('skirt-port'));
  });

  test('a spot of the hull is found on the side that its name says', () => {
    const port = placesOf(template, 'hull').find((box) => box.keys[0] === 'port-side')!;
    const spot = spotOfTexel(
      new SheetSurface(template, 'hull'),
      (port.left + port.right) / 2,
      (port.top + port.bottom) / 2,
    )!;
    expect(spot.part).toBe('port-side');
    // z points to starboard.
    expect(spot.position[2]).toBeLessThan(-0.3);
    expect(spot.normal[2]).toBeLessThan(0);
  });
});
