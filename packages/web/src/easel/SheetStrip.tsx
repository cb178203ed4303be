import { useEffect, useState } from 'react';
import { sheetState, signaturesOf, type SheetState } from '@wet-lacquer/core/delivery/checklist.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { specFor } from '@wet-lacquer/core/delivery/specs.ts';
import { NO_TARGET } from '@wet-lacquer/core/delivery/target.ts';
import { InputError } from '@wet-lacquer/core/errors.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { Row } from '../parts/layout.tsx';
import { Pip } from '../parts/Pip.tsx';
import { ART, INK } from '../theme.ts';
import { useEasel, useLivery, useTemplate } from './context.ts';
import { choose, useSession } from './session.ts';
import { STRIP_WIDTH } from './sizes.ts';
import { useThumb } from './useThumb.ts';

const SIDE = 68;

/** The sheets with their pictures; also the checklist. */
export function SheetStrip() {
  const template = useTemplate();
  const current = useSession((s) => s.sheet);
  const states = useSheetStates();
  return (
    <nav
      aria-label="Sheets"
      style={{
        width: STRIP_WIDTH,
        flex: 'none',
        background: INK.panel,
        borderRight: `1px solid ${INK.line}`,
        padding: 7,
        overflowY: 'auto',
      }}
    >
      {template.sheets.map((sheet) => (
        <button
          key={sheet.key}
          type="button"
          aria-current={sheet.key === current}
          aria-label={`Sheet ${sheet.name}`}
          onClick={() => choose(null, sheet.key)}
          style={{
            display: 'block',
            width: '100%',
            padding: 0,
            marginBottom: 10,
            background: 'transparent',
            border: 0,
            color: INK.text,
            font: 'inherit',
            textAlign: 'left',
            cursor: 'pointer',
          }}
        >
          <SheetThumb sheet={sheet.key} current={sheet.key === current} />
          <Row as="span" above={3} spread="space-between">
            <span style={{ minWidth: 0, overflowWrap: 'anywhere', lineHeight: 1.2 }}>{sheet.name}</span>
            <Pip state={states.get(sheet.key) ?? 'bare'} name={sheet.name} />
          </Row>
        </button>
      ))}
    </nav>
  );
}

function SheetThumb({ sheet, current }: { sheet: string; current: boolean }) {
  const canvas = useThumb('sheetThumb', { sheet, side: SIDE * 2 }, 600);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      width={SIDE}
      height={SIDE}
      style={{
        display: 'block',
        width: SIDE,
        height: SIDE,
        background: ART.ground,
        outline: current ? `2px solid ${INK.accent}` : `1px solid ${INK.line}`,
      }}
    />
  );
}

/** The spec that a livery is pinned to; null: a step back put it on one that was not opened with it. */
function pinnedSpec(livery: Livery, template: Template) {
  try {
    return specFor(livery, template);
  } catch (error) {
    if (error instanceof InputError) return null;
    throw error;
  }
}

/** How far each sheet is, from what would be delivered now and what was delivered last. */
function useSheetStates(): ReadonlyMap<string, SheetState> {
  const { doc } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const delivered = doc.use((s) => s.delivered);
  const slot = doc.use((s) => s.lastDelivery?.slot ?? null);
  const [states, setStates] = useState<ReadonlyMap<string, SheetState>>(new Map());
  useEffect(() => {
    let wanted = true;
    const spec = pinnedSpec(livery, template);
    if (!spec) return;
    const plan = planDelivery(livery, template, spec, { ...NO_TARGET, slot });
    void signaturesOf(plan).then((now) => {
      if (wanted)
        setStates(new Map(template.sheets.map(({ key }) => [key, sheetState(livery, key, plan, now, delivered)])));
    });
    return () => {
      wanted = false;
    };
  }, [livery, template, delivered, slot]);
  return states;
}
