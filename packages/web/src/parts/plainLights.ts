/** Lights of models of whose surface nothing is known but its colour. */
import { AmbientLight, DirectionalLight, HemisphereLight, type Light } from 'three';
import type { LightPreset } from './stage.ts';

const from = (x: number, y: number, z: number, colour: string, strength: number): Light => {
  const light = new DirectionalLight(colour, strength);
  light.position.set(x, y, z);
  return light;
};

const MADE: Record<LightPreset, () => Light[]> = {
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

export const plainLights = (preset: LightPreset): Light[] => MADE[preset]();
