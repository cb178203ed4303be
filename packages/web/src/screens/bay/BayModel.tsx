import { useEffect, useRef, useState } from 'react';
import { NoColorSpace, type Texture } from 'three';
import { heldIn } from '@wet-lacquer/core/held.ts';
import type { BayGame, BayReport, BaySheet } from '@wet-lacquer/core/bay/report.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { SurfaceTextures } from '../../parts/lit.ts';
import { greenDown, normalOf, valuesOf } from '../../parts/surfaceMaps.ts';
import { Lights } from '../../parts/Lights.tsx';
import type { LightPreset } from '../../parts/lamps.ts';
import { Stage } from '../../parts/stage.ts';
import { hasWebGl, levelsTexture } from '../../parts/stageTextures.ts';
import { Nothing } from '../../parts/Notice.tsx';
import { Toggle } from '../../parts/Toggle.tsx';
import { INK } from '../../theme.ts';

/** Mid grey of the games by day, and what is left of it at night. */
export const BAY_GROUND = '#8b8b8b';
const AT_NIGHT = '#161616';
/** How far the camera stands, of where the game puts it. */
const DISTANCES = { near: 0.62, 'as played': 1, far: 3.2 } as const;
type Distance = keyof typeof DISTANCES;

interface Props {
  template: Template;
  report: Pick<BayReport, 'sheets' | 'plates' | 'plateTextures'>;
  view: BayGame['view'];
}

/** Nothing was delivered. */
const NOTHING: Props['report'] = { sheets: [], plates: [], plateTextures: [] };

/** What a sheet is shown as beside its plain look: "night", "far", "wet" ... */
const lookOf = (key: string) => key.split('/')[1] ?? null;

/** The craft as the game shows it, from the textures that it decoded; beside it, where asked for, as the game ships it. */
export function BayModel({ template, report, view }: Props) {
  const { sheets } = report;
  const [light, setLight] = useState<LightPreset>(view.light);
  const [look, setLook] = useState<string | null>(null);
  const [distance, setDistance] = useState<Distance>('as played');
  const [beside, setBeside] = useState(false);
  const [able] = useState(hasWebGl);
  /** Both stages, so that turning one turns the other. */
  const [pair] = useState(() => new Set<Stage>());
  const looks = [...new Set(sheets.flatMap(({ key }) => lookOf(key) ?? []))];
  const night = look === 'night';
  const shown = { template, view, look, pair, distance, night, light: night ? ('Unlit' as const) : light };
  if (!able)
    return (
      <div style={{ height: '100%', background: INK.room }}>
        <Nothing title="The craft cannot be shown">
          This browser has no WebGL. The list beside it says what the game loaded.
        </Nothing>
      </div>
    );
  return (
    <div style={{ position: 'relative', height: '100%', overflow: 'hidden', display: 'flex', gap: 2 }}>
      {beside && <Craft {...shown} report={NOTHING} called="as the game ships it" />}
      <Craft {...shown} report={report} called={beside ? 'as delivered' : null} />
      <div style={{ position: 'absolute', left: 10, right: 10, bottom: 10, display: 'flex', flexWrap: 'wrap', gap: 6 }}>
        <Group name="Light">
          <Lights light={night ? null : light} onLight={setLight} />
        </Group>
        <Group name="Distance">
          {(Object.keys(DISTANCES) as Distance[]).map((one) => (
            <Toggle key={one} on={one === distance} onChange={() => setDistance(one)}>
              {one}
            </Toggle>
          ))}
        </Group>
        <Toggle on={beside} onChange={setBeside}>
          Beside its own
        </Toggle>
        {looks.length > 0 && (
          <Group name="Look">
            {[null, ...looks].map((one) => (
              <Toggle key={one ?? 'plain'} on={one === look} onChange={() => setLook(one)}>
                {one ?? 'plain'}
              </Toggle>
            ))}
          </Group>
        )}
      </div>
    </div>
  );
}

const Group = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <div role="group" aria-label={name} style={{ display: 'flex', flexWrap: 'wrap', gap: 2, marginRight: 8 }}>
    {children}
  </div>
);

/** A decoded texture with its levels, as they are shown. */
const levelsOf = (sheet: BaySheet) =>
  [sheet, ...sheet.levels].map(({ width, height, pixels }) => ({ width, height, data: pixels }));

/** Gloss, metal and normals, as far as the game loaded maps of them; null: none. */
function surfacesIn(template: Template, sheets: readonly BaySheet[]): Map<string, SurfaceTextures> | null {
  const loaded = (key: string): Texture | null => {
    const sheet = sheets.find((one) => one.key === key && one.status === 'shown');
    if (!sheet) return null;
    const texture = levelsTexture(levelsOf(sheet));
    texture.colorSpace = NoColorSpace;
    return texture;
  };
  const found = template.sheets.flatMap((sheet): [string, SurfaceTextures][] => {
    const { map, reads } = valuesOf(sheet);
    const values = loaded(`${sheet.key}/${map}`);
    const bent = normalOf(sheet);
    const normal = bent === null ? null : loaded(`${sheet.key}/${bent}`);
    return values || normal ? [[sheet.key, { values, reads, normal, greenDown: greenDown(sheet) }]] : [];
  });
  return found.length > 0 ? new Map(found) : null;
}

interface CraftProps extends Props {
  look: string | null;
  light: LightPreset;
  night: boolean;
  distance: Distance;
  pair: Set<Stage>;
  called: string | null;
}

function Craft({ template, report, view, look, light, night, distance, pair, called }: CraftProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage | null>(null);
  /** The stage before this one: what is made anew looks as it did. */
  const last = useRef<Stage | null>(null);
  const placed = useRef<Distance | null>(null);
  useEffect(() => {
    const { sheets } = report;
    const textures = new Map<string, Texture>();
    const texels = view.texels === 'nearest' ? 'nearest' : 'linear';
    for (const { key } of template.sheets) {
      const as = (wanted: string) => sheets.find((sheet) => sheet.key === wanted && sheet.status !== 'own');
      const sheet = (look && as(`${key}/${look}`)) ?? as(key);
      if (!sheet) continue;
      textures.set(key, levelsTexture(levelsOf(sheet), texels));
    }
    const cuts = new Set(template.sheets.filter(({ alpha }) => alpha === 'cutout').map(({ key }) => key));
    const one = new Stage(canvas.current!, template, textures, BAY_GROUND, cuts);
    const surfaces = look ? null : surfacesIn(template, sheets);
    one.finish(surfaces);
    const worn = new Map(report.plateTextures.map((sheet) => [sheet.file, levelsTexture(levelsOf(sheet), texels)]));
    one.plates(
      report.plates
        .filter(({ status }) => status === 'shown')
        .map(({ name, file, mesh }) => ({ id: name, mesh, wears: heldIn(worn, file) })),
    );
    const [before] = pair;
    stage.current = one;
    pair.add(one);
    one.onMoved(() => pair.forEach((other) => other !== one && other.lookAs(one)));
    const as = before ?? last.current;
    if (as) one.lookAs(as);
    last.current = one;
    one.fill();
    return () => {
      pair.delete(one);
      one.close();
      stage.current = null;
      for (const texture of [...textures.values(), ...worn.values()]) texture.dispose();
      for (const { values, normal } of surfaces?.values() ?? []) [values, normal].forEach((one) => one?.dispose());
    };
  }, [template, report, look, view, pair]);
  useEffect(() => stage.current?.light(light), [light, template, report, look, view]);
  useEffect(() => stage.current?.behind(night ? AT_NIGHT : BAY_GROUND), [night, template, report, look, view]);
  useEffect(() => {
    // The second of a pair stands where the first one does.
    if (placed.current === distance || (placed.current === null && pair.size > 1)) return;
    placed.current = distance;
    stage.current?.home();
    stage.current?.zoom(view.distance * DISTANCES[distance]);
  }, [distance, view, pair]);
  return (
    <div style={{ flex: 1, minWidth: 0, position: 'relative', overflow: 'hidden' }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={called ? `The craft ${called}` : 'The craft in the game'}
        style={{ width: '100%', height: '100%', display: 'block', position: 'absolute' }}
      />
      {called && (
        <span style={{ position: 'absolute', left: 10, top: 10, background: INK.panel, padding: '3px 8px' }}>
          {called}
        </span>
      )}
    </div>
  );
}
