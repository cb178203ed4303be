import { Button, Dialog, DialogContent, DialogTitle } from '@mui/material';
import { useState } from 'react';
import { FINISH_KINDS, FINISH_VALUES } from '@wet-lacquer/core/livery/finish.ts';
import { SHIPPED_FONTS } from '@wet-lacquer/core/livery/fonts.ts';
import { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { TeamItem } from '@wet-lacquer/core/team/team.ts';
import { ColourInput } from '../../parts/ColourInput.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { DecalShelf } from '../../parts/DecalShelf.tsx';
import { FINISH_NUMBERS } from '../../parts/finishNumbers.ts';
import { NumberField } from '../../parts/NumberField.tsx';
import { TextEntry } from '../../parts/TextEntry.tsx';

type Set = (item: TeamItem) => void;
type Of<K extends TeamItem['kind']> = Extract<TeamItem, { kind: K }>;

/** What can be set of something shared. */
export function ItemFields({ item, onSet }: { item: TeamItem; onSet: Set }) {
  if (item.kind === 'colour')
    return (
      <ColourInput label={`Value of ${item.name}`} value={item.value} onCommit={(value) => onSet({ ...item, value })} />
    );
  if (item.kind === 'particular')
    return <TextEntry label={item.name} value={item.value} onCommit={(value) => onSet({ ...item, value })} />;
  if (item.kind === 'mark') return <MarkFields item={item} onSet={onSet} />;
  return item.kind === 'lettering' ? (
    <LetteringFields item={item} onSet={onSet} />
  ) : (
    <FinishFields item={item} onSet={onSet} />
  );
}

function MarkFields({ item, onSet }: { item: Of<'mark'>; onSet: Set }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>Another picture</Button>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="md" fullWidth aria-labelledby="another-picture">
        <DialogTitle id="another-picture">Another picture for {item.name}</DialogTitle>
        <DialogContent>
          <DecalShelf
            verb="Take"
            onChoose={({ blob, source, ratio }) => {
              setOpen(false);
              onSet({ ...item, value: { blob: Sha256.parse(blob), source, ratio } });
            }}
          />
        </DialogContent>
      </Dialog>
    </>
  );
}

function LetteringFields({ item, onSet }: { item: Of<'lettering'>; onSet: Set }) {
  const { value } = item;
  const set = (more: Partial<typeof value>) => onSet({ ...item, value: { ...value, ...more } });
  return (
    <>
      <Choice
        label="font"
        value={value.font}
        options={SHIPPED_FONTS.map(({ key, name, kind }) => ({ value: key, label: name, note: kind }))}
        onChange={(font) => set({ font })}
      />
      <NumberField
        label="spacing"
        unit="%"
        min={-50}
        max={400}
        value={value.spacing}
        onCommit={(spacing) => set({ spacing })}
      />
      <NumberField label="slant" unit="°" min={-45} max={45} value={value.slant} onCommit={(slant) => set({ slant })} />
    </>
  );
}

function FinishFields({ item, onSet }: { item: Of<'finish'>; onSet: Set }) {
  const { value } = item;
  return (
    <>
      <Choice
        label="kind"
        value={value.kind}
        options={FINISH_KINDS.map((kind) => ({ value: kind, label: kind }))}
        onChange={(kind) => onSet({ ...item, value: { kind, ...FINISH_VALUES[kind] } })}
      />
      {FINISH_NUMBERS.map(([key, label]) => (
        <NumberField
          key={key}
          label={label}
          unit="%"
          min={0}
          max={100}
          value={value[key]}
          onCommit={(to) => onSet({ ...item, value: { ...value, [key]: to } })}
        />
      ))}
    </>
  );
}
