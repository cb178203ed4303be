import { LIGHTS, type LightPreset } from './lamps.ts';
import { Toggle } from './Toggle.tsx';

interface Props {
  /** Null: what is shown has a light of its own. */
  light: LightPreset | null;
  onLight(light: LightPreset): void;
}

/** The lights in which a model can be seen, one of them on. */
export const Lights = ({ light, onLight }: Props) =>
  LIGHTS.map((preset) => (
    <Toggle key={preset} on={preset === light} disabled={light === null} onChange={() => onLight(preset)}>
      {preset}
    </Toggle>
  ));
