import { Button } from '@mui/material';
import { useState } from 'react';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Section } from '../../parts/Section.tsx';
import { Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { useLooking } from './useLooking.ts';

const SIDES = [256, 512, 1024, 2048, 4096] as const;

/** Whether what is painted on a sheet stands on the model as plates; and one more sheet for them. */
export function PlateFields({ sheet }: { sheet: TemplateSheet }) {
  const { template, change } = useLooking();
  const [side, setSide] = useState<(typeof SIDES)[number]>(1024);
  if (template.boards) return null;
  const worn = template.parts.some((part) => part.sheet === sheet.key);
  return (
    <Section title="Plates">
      {!worn && (
        <Tick
          label="What is painted here stands on the model"
          checked={sheet.plates ?? false}
          onChange={(plates) => void change({ do: 'for-plates', sheet: sheet.key, plates })}
        />
      )}
      {!template.sheets.some(({ plates }) => plates) && (
        <>
          <Quiet as="p">Thin boards that a game puts on the model have their pictures on a sheet of their own.</Quiet>
          <Choice
            label="size"
            value={String(side)}
            options={SIDES.map((one) => ({ value: String(one), label: `${one} x ${one}` }))}
            onChange={(value) => setSide(SIDES.find((one) => String(one) === value)!)}
          />
          <Button size="small" onClick={() => void change({ do: 'add-plates', name: 'plates', side })}>
            Add a sheet of plates
          </Button>
        </>
      )}
    </Section>
  );
}
