import { Button, Checkbox, FormControlLabel } from '@mui/material';
import { useState } from 'react';
import { sheetNamed, type TemplateRun, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { freeKey } from '@wet-lacquer/core/surface/reviseTemplate.ts';
import { proposeRun } from '@wet-lacquer/core/surface/runs.ts';
import { Quiet } from '../../parts/text.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { INK } from '../../theme.ts';
import { Pair, Section } from '../../parts/Section.tsx';
import { useLooking } from './useLooking.ts';

/** Sheets that are painted as one long surface: which they are, and where each lies beside the first. */
export function RunFields({ sheet }: { sheet: TemplateSheet }) {
  const { template, change } = useLooking();
  const [wanted, setWanted] = useState<readonly string[]>([sheet.key]);
  const [problem, setProblem] = useState<string | null>(null);
  if (template.sheets.length < 2) return null;
  const runs = template.runs ?? [];
  const mine = runs.filter((run) => run.pieces.some((piece) => piece.sheet === sheet.key));
  const put = (next: TemplateRun[]) => void change({ do: 'set-runs', runs: next });
  const nameOf = (key: string) => template.sheets.find((s) => s.key === key)?.name ?? key;
  const make = () => {
    const keys = template.sheets.map((s) => s.key).filter((key) => wanted.includes(key));
    let left = 0;
    const beside = keys.map((key) => {
      const piece = { sheet: key, left, top: 0 };
      left += sheetNamed(template, key).width;
      return piece;
    });
    const met = proposeRun(template, keys);
    setProblem(met ? null : 'They do not meet on the model in one way: they were laid side by side, and can be moved.');
    const name = keys.map(nameOf).join(', ').slice(0, 60);
    put([...runs, { key: freeKey(name, new Set(runs.map((run) => run.key))), name, pieces: met ?? beside }]);
  };
  return (
    <Section title="One surface over several sheets">
      {mine.map((run) => (
        <fieldset
          key={run.key}
          style={{ border: `1px solid ${INK.line}`, margin: 0, padding: 6, display: 'grid', gap: 6 }}
        >
          <strong>{run.name}</strong>
          {run.pieces.map((piece, i) => (
            <div key={piece.sheet}>
              <Quiet small>{nameOf(piece.sheet)}</Quiet>
              <Pair>
                {(['left', 'top'] as const).map((side) => (
                  <NumberField
                    key={side}
                    label={side}
                    value={piece[side]}
                    digits={0}
                    onCommit={(value) => {
                      const pieces = run.pieces.with(i, { ...piece, [side]: value });
                      put(runs.map((other) => (other === run ? { ...run, pieces } : other)));
                    }}
                  />
                ))}
              </Pair>
            </div>
          ))}
          <Button size="small" onClick={() => put(runs.filter((other) => other !== run))}>
            Paint them apart again
          </Button>
        </fieldset>
      ))}
      {template.sheets.map(({ key, name }) => (
        <FormControlLabel
          key={key}
          sx={{ ml: 0, minHeight: 24 }}
          control={
            <Checkbox
              size="small"
              checked={wanted.includes(key)}
              onChange={() => setWanted(wanted.includes(key) ? wanted.filter((k) => k !== key) : [...wanted, key])}
            />
          }
          label={name}
        />
      ))}
      <Button size="small" disabled={wanted.length < 2} onClick={make}>
        Lay them together
      </Button>
      {problem && <Notice level="warning">{problem}</Notice>}
    </Section>
  );
}
