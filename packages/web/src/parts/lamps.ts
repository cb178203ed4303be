/** The lights in which a model can be seen, and its lamps, which can be carried round it. */
import { AmbientLight, DirectionalLight, HemisphereLight, Vector3, type Light } from 'three';
import { lampsFrom, RIGS } from './lit.ts';

export const LIGHTS = ['Overcast', 'Low sun', 'Workshop', 'Night quay', 'Unlit'] as const;
export type LightPreset = (typeof LIGHTS)[number];

const UP = new Vector3(0, 1, 0);
/** How far a pointer carries the lamps. */
const DEGREES_A_PIXEL = 0.6;

const from = (x: number, y: number, z: number, colour: string, strength: number): Light => {
  const light = new DirectionalLight(colour, strength);
  light.position.set(x, y, z);
  return light;
};

/** Of models of whose surface nothing is known but its colour. */
const PLAIN: Record<LightPreset, () => Light[]> = {
  Overcast: () => [new HemisphereLight('#ffffff', '#9a9a9a', 2.2), from(2, 5, 3, '#ffffff', 1.1)],
  'Low sun': () => [new HemisphereLight('#c9d6ea', '#6d655c', 1.3), from(5, 1.6, 2, '#ffd9a8', 2.4)],
  Workshop: () => [
    new AmbientLight('#ffffff', 0.7),
    from(4, 5, 0, '#ffffff', 1.4),
    from(-4, 4, 3, '#f2f5ff', 1.1),
    from(0, 3, -5, '#ffffff', 0.9),
  ],
  'Night quay': () => [new HemisphereLight('#2a303c', '#1a1a1c', 1.2), from(3, 3, 4, '#ffcf90', 1.1)],
  Unlit: () => [],
};

export class Lamps {
  /** For what is shown as plain paint. */
  plain: Light[] = [];
  /** Where they shine from, for surfaces: one for all their materials. */
  readonly from = { value: lampsFrom(RIGS.Overcast) };
  /** Degrees that they have been carried round the model, clockwise as seen from above. */
  at = 0;

  shine(preset: LightPreset): void {
    this.plain = PLAIN[preset]();
    if (preset !== 'Unlit') this.from.value = lampsFrom(RIGS[preset]);
    this.turn(this.at);
  }

  /** @param by degrees, clockwise as seen from above */
  carry(by: number): void {
    this.at = (((this.at + by) % 360) + 360) % 360;
    this.turn(by);
  }

  private turn(by: number): void {
    for (const place of [...this.plain.map(({ position }) => position), ...this.from.value])
      place.applyAxisAngle(UP, (-by * Math.PI) / 180);
  }
}

/**
 * Hears of a pointer with Alt that carries lamps round; nobody who listens later hears of it then.
 * @param wanted whether Alt means that just now @param carry by so many degrees @returns what ends it
 */
export function carriedByPointer(
  canvas: HTMLCanvasElement,
  wanted: () => boolean,
  carry: (by: number) => void,
): () => void {
  const press = (down: PointerEvent) => {
    if (!down.altKey || down.button !== 0 || !wanted()) return;
    down.stopImmediatePropagation();
    let at = down.clientX;
    const over = new AbortController();
    const { signal } = over;
    const move = ({ clientX }: PointerEvent) => {
      carry((clientX - at) * DEGREES_A_PIXEL);
      at = clientX;
    };
    window.addEventListener('pointermove', move, { signal });
    for (const end of ['pointerup', 'pointercancel']) window.addEventListener(end, () => over.abort(), { signal });
  };
  canvas.addEventListener('pointerdown', press);
  return () => canvas.removeEventListener('pointerdown', press);
}
