import { Button } from '@mui/material';
import { useState } from 'react';
import { mapsOf } from '@wet-lacquer/core/livery/template.ts';
import { PlainList, Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { size } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { INK, MONO } from '../../theme.ts';
import { MAPS } from './draft.ts';
import { useLooking } from './useLooking.ts';

const TEXTURE = /\.(dds|tga|png|jpe?g|webp)$/i;

/** The game's own files that the template keeps as they came: those that deliveries go over, and those beside, each with the reason. */
export function KeptFiles() {
  const { hash, template } = useLooking();
  const originals = Object.values(template.originals ?? {});
  const { beside = [], ownSpec } = template;
  if (originals.length + beside.length === 0) return null;
  const along = new Set((ownSpec?.companions ?? []).map(({ file }) => file));
  const rows = [
    ...originals.map(({ name, bytes }) => ({ name, bytes, says: 'deliveries go over it' })),
    ...beside.map(({ name, bytes, why }) => ({
      name,
      bytes,
      says: along.has(name) ? 'goes along as it came' : `in no sheet: ${why}`,
    })),
  ].toSorted((a, b) => (a.name < b.name ? -1 : 1));
  return (
    <section>
      <h2 style={{ fontSize: 13, margin: '0 0 4px' }}>Kept as they came</h2>
      <PlainList gap={4}>
        {rows.map(({ name, bytes, says }) => (
          <li key={name} style={{ overflowWrap: 'anywhere', fontSize: 12 }}>
            <a
              href={`/api/templates/${hash}/kept?${new URLSearchParams({ name })}`}
              download
              aria-label={`Save ${name} as it came`}
              style={{ fontFamily: MONO, color: INK.text }}
            >
              {name}
            </a>{' '}
            <Quiet>
              {size(bytes)}, {says}
            </Quiet>
            {TEXTURE.test(name) && beside.some((one) => one.name === name) && <TakeIn file={name} />}
          </li>
        ))}
      </PlainList>
    </section>
  );
}

/** Puts a kept texture on a sheet after all. */
function TakeIn({ file }: { file: string }) {
  const { template, takeIn } = useLooking();
  const [open, setOpen] = useState(false);
  const [place, setPlace] = useState('');
  if (!template.ownSpec) return null;
  if (!open)
    return (
      <Button size="small" variant="text" aria-label={`Put ${file} on a sheet`} onClick={() => setOpen(true)}>
        Put it on a sheet
      </Button>
    );
  const places = [
    ...(template.boards ? [{ value: 'new', label: 'a sheet of its own' }] : []),
    ...template.sheets.flatMap((sheet) =>
      MAPS.filter((map) => !mapsOf(sheet).some(({ key }) => key === map)).map((map) => ({
        value: `${sheet.key}/${map}`,
        label: `${sheet.name}, ${map}`,
      })),
    ),
  ];
  const [sheet, map] = place.split('/');
  return (
    <Stack gap={4} pad="4px 0">
      <Choice label="goes on" value={place} options={[{ value: '', label: 'choose' }, ...places]} onChange={setPlace} />
      <Button
        size="small"
        disabled={place === ''}
        onClick={() => void takeIn(place === 'new' ? { file, sheet: null, map: 'colour' } : { file, sheet, map })}
      >
        Put it there
      </Button>
    </Stack>
  );
}
