import { finishesOf, finishOf } from '@wet-lacquer/core/livery/finish.ts';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { MAIN_MAP } from '@wet-lacquer/core/livery/template.ts';
import { groupsAround } from '@wet-lacquer/core/livery/tree.ts';
import { Button } from '@mui/material';
import { Choice } from '../../parts/Choice.tsx';
import { Section } from '../../parts/Section.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { Quiet } from '../../parts/text.tsx';
import { useLivery } from '../context.ts';
import { useSession, useSessionOf } from '../session.ts';
import type { FieldsProps } from './PlaceFields.tsx';

const UNDER = 'as it is under it';

/** How a layer is finished where it covers. */
export function FinishFields({ layer, disabled, set }: FieldsProps<Layer>) {
  const livery = useLivery();
  const { sheet, map } = useSessionOf('sheet', 'map');
  if (map !== MAIN_MAP || layer.kind === 'adjust') return null;
  const around = groupsAround(layersOf(livery, sheet, map), layer)
    .map(({ finish }) => finishOf(livery, finish))
    .find((finish) => finish);
  const own = finishOf(livery, layer.finish);
  return (
    <Section title="Finish">
      <Choice
        label="finished in"
        value={own?.id ?? ''}
        disabled={disabled}
        options={[
          { value: '', label: around ? `as its group: ${around.name}` : UNDER },
          ...finishesOf(livery).map(({ id, name, kind }) => ({
            value: id as string,
            label: name,
            note: name.toLowerCase() === kind ? undefined : kind,
          })),
        ]}
        onChange={(id) =>
          set(
            id ? { finish: id } : { finish: null, finishOnly: null },
            id ? `Finish ${layer.name} in ${finishOf(livery, id)!.name}` : `Leave the finish under ${layer.name}`,
          )
        }
      />
      {own && (
        <Tick
          label="Its finish alone: colours stay"
          checked={layer.finishOnly ?? false}
          disabled={disabled}
          onChange={(only) =>
            set(
              { finishOnly: only ? true : null },
              only ? `Only the finish of ${layer.name}` : `Colours of ${layer.name}, too`,
            )
          }
        />
      )}
      {layer.finish && !own && <Quiet as="p">Its finish is gone from the livery: what is under it stays.</Quiet>}
      <Button size="small" onClick={() => useSession.setState({ column: 'scheme', focus: 'finishes' })}>
        Change the finishes
      </Button>
    </Section>
  );
}
