/** A game's finish zones: which finish of a livery goes to which of them, and what the game is told of each. */
import { LINEAR_OF_SRGB8, LINEAR_ONE } from '../colour/srgb.ts';
import { rgbOfHex } from '../colour/hex.ts';
import { finishesOf, shownAs, type LiveryFinish } from '../livery/finish.ts';
import type { Livery } from '../livery/livery.ts';
import type { SpecZone } from '../livery/spec.ts';
import { finishesSeen } from './derived.ts';

/** Where a finish goes. */
export interface ZoneGiven {
  finish: LiveryFinish;
  zone: SpecZone;
  /** The zone is another finish's, which is the nearest that could be had; null: it is its own. */
  shares: LiveryFinish | null;
  /** Whether any zone of the game takes such a finish. */
  allowed: boolean;
}

/** Finishes that show on some sheets, in the livery's order. */
export function finishesOn(livery: Livery, sheets: readonly string[]): LiveryFinish[] {
  const found = new Set(sheets.flatMap((sheet) => finishesSeen(livery, sheet)));
  return finishesOf(livery).filter((finish) => found.has(finish));
}

const takes = ({ kinds }: SpecZone, { kind }: LiveryFinish): boolean => !kinds || kinds.includes(kind);

/** How far two finishes are apart, by their values; flakes count as much as all metal. */
export function apart(a: LiveryFinish, b: LiveryFinish): number {
  const flake = ({ flake: of }: LiveryFinish) => (of ? of.density : 0);
  const by = [
    a.roughness - b.roughness,
    a.metal - b.metal,
    (a.coat - b.coat) / 2,
    (a.sheen - b.sheen) / 2,
    flake(a) - flake(b),
  ];
  return Math.sqrt(by.reduce((sum, d) => sum + d * d, 0));
}

/**
 * Gives each finish a zone of its own, within what the zones take: as many as can have one get one (Kuhn's augmenting paths, "The Hungarian
 * method for the assignment problem", 1955). One that gets none goes to the zone of the nearest finish.
 */
export function giveZones(livery: Livery, zones: readonly SpecZone[], sheets: readonly string[]): ZoneGiven[] {
  if (zones.length === 0) return [];
  const finishes = finishesOn(livery, sheets);
  const owner = new Map<SpecZone, LiveryFinish>();
  const place = (finish: LiveryFinish, tried: Set<SpecZone>): boolean => {
    for (const zone of zones) {
      if (tried.has(zone) || !takes(zone, finish)) continue;
      tried.add(zone);
      const has = owner.get(zone);
      if (has && !place(has, tried)) continue;
      owner.set(zone, finish);
      return true;
    }
    return false;
  };
  for (const finish of finishes) place(finish, new Set());
  const own = new Map([...owner].map(([zone, finish]) => [finish, zone]));
  return finishes.map((finish) => {
    const zone = own.get(finish);
    if (zone) return { finish, zone, shares: null, allowed: true };
    const allowed = zones.some((one) => takes(one, finish));
    const near = [...owner]
      .filter(([one]) => !allowed || takes(one, finish))
      .sort(([, a], [, b]) => apart(a, finish) - apart(b, finish))
      .at(0);
    return { finish, zone: near?.[0] ?? zones[0], shares: near?.[1] ?? null, allowed };
  });
}

/** Which colour of the view of zones becomes which of the game's, `#rrggbb` each. */
export const zoneColours = (livery: Livery, given: readonly ZoneGiven[]): Record<string, string> =>
  Object.fromEntries(given.map(({ finish, zone }) => [shownAs(livery, finish.id), zone.hex]));

/** A finish's values as a game's texts may want them: shares of 1, flake size in millimetres, colours as hex and linear. */
export function valuesInText({ kind, name, roughness, metal, coat, coatRoughness, sheen, flake }: LiveryFinish) {
  const share = (percent: number) => Number((percent / 100).toFixed(4));
  const tint = flake?.tint ?? '#ffffff';
  const [flakeRed, flakeGreen, flakeBlue] = rgbOfHex(tint).map((v) =>
    Number((LINEAR_OF_SRGB8[v] / LINEAR_ONE).toFixed(4)),
  );
  return {
    finish: kind,
    finishName: name,
    roughness: share(roughness),
    gloss: share(100 - roughness),
    metal: share(metal),
    coat: share(coat),
    coatRoughness: share(coatRoughness),
    sheen: share(sheen),
    flakeDensity: share(flake?.density ?? 0),
    flakeStrength: share(flake?.strength ?? 0),
    flakeSize: flake?.size ?? 0,
    flakeTint: tint,
    flakeRed,
    flakeGreen,
    flakeBlue,
  };
}

/** The zones that are used, with the values of the finish that owns each: what sidecars say. */
export const zonesInText = (given: readonly ZoneGiven[]) =>
  given
    .filter(({ shares }) => shares === null)
    .map(({ zone, finish }) => ({ key: zone.key, name: zone.name, hex: zone.hex, ...valuesInText(finish) }));
