import type { Decisions } from '@wet-lacquer/core/intake/understood.ts';
import type { UpAxis } from '@wet-lacquer/core/models/upAxis.ts';
import type { IntakeFile } from '@wet-lacquer/sync/answers.ts';
import { Hidden, Quiet } from '../../parts/text.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { ART } from '../../theme.ts';

type Stance = Decisions['stance'];

/** How a model is taken: which way is up, how long a unit is, which scene; with a picture of it as it then stands. */
export function StanceFields({
  intake,
  file,
  stance,
  onSet,
}: {
  intake: string;
  file: IntakeFile;
  stance: Stance;
  onSet(values: Partial<Stance>): void;
}) {
  const facts = file.understood?.kind === 'model' ? file.understood : null;
  if (!facts) return null;
  const shown = new URLSearchParams({
    name: file.name,
    up: stance.up,
    mirrored: stance.mirrored ? 'yes' : 'no',
  });
  return (
    <fieldset style={{ border: 0, margin: 0, padding: 0, display: 'grid', gap: 6 }}>
      <Hidden as="legend">How the model stands</Hidden>
      <img
        src={`/api/intakes/${intake}/model?${shown}`}
        alt={`The model with ${stance.up} upwards${stance.mirrored ? ', mirrored' : ''}`}
        style={{ width: '100%', aspectRatio: '320 / 200', objectFit: 'contain', background: ART.stage }}
      />
      <Choice<UpAxis>
        label="up is"
        value={stance.up}
        options={(['y', 'z', 'x'] as const).map((axis) => ({
          value: axis,
          label: facts.up?.up === axis ? `${axis}: ${facts.up.reason}` : axis,
        }))}
        onChange={(up) => onSet({ up })}
      />
      <NumberField
        label="metres a unit"
        value={stance.unit}
        min={1e-6}
        max={1e6}
        step={0.01}
        digits={4}
        onCommit={(unit) => onSet({ unit })}
      />
      {facts.size && (
        <Quiet as="p" small>
          {sizeWords(facts.size, stance)}
        </Quiet>
      )}
      <Tick label="Left and right exchanged" checked={stance.mirrored} onChange={(mirrored) => onSet({ mirrored })} />
      {facts.groups.length < 4 && (
        <Tick
          label="Divide it into sides, top, nose, wheels"
          checked={stance.divide}
          onChange={(divide) => onSet({ divide })}
        />
      )}
      {facts.scenes && (
        <Choice
          label="scene"
          value={String(stance.scene ?? facts.scene ?? 0)}
          options={facts.scenes.map((name, i) => ({ value: String(i), label: name }))}
          onChange={(scene) => onSet({ scene: Number(scene) })}
        />
      )}
    </fieldset>
  );
}

/** "4.2 m long, 1.8 m across, 1.4 m high": the longer of what lies flat is its length. */
function sizeWords(size: readonly [number, number, number], { up, unit }: Stance): string {
  const high = size[{ x: 0, y: 1, z: 2 }[up]] * unit;
  const [long, across] = size
    .filter((_, axis) => axis !== { x: 0, y: 1, z: 2 }[up])
    .map((value) => value * unit)
    .sort((a, b) => b - a);
  const metres = (value: number) => `${Number(value.toPrecision(3))} m`;
  return `${metres(long)} long, ${metres(across)} across, ${metres(high)} high`;
}
