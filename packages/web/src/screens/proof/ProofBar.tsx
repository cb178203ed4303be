import { useShallow } from 'zustand/react/shallow';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { FORMATS, TRIED, type FormatKey } from '@wet-lacquer/core/texture/formats/index.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Toggle } from '../../parts/Toggle.tsx';
import { INK, MONO } from '../../theme.ts';
import { useProof } from './proofState.ts';

const EFFORTS = [
  { value: 'fast', label: 'fast' },
  { value: 'normal', label: 'normal', note: 'as delivered' },
  { value: 'best', label: 'best' },
] as const;

/** What is proofed, and how it is shown. @param flipped the game stores the sheet upside down */
export function ProofBar({ template, flipped }: { template: Template; flipped: boolean }) {
  const { sheet, format, effort, beside, smooth, onModel, asStored, view } = useProof(
    useShallow(({ sheet, format, effort, beside, smooth, onModel, asStored, view }) => ({
      sheet,
      format,
      effort,
      beside,
      smooth,
      onModel,
      asStored,
      view,
    })),
  );
  return (
    <div
      role="toolbar"
      aria-label="What is proofed"
      style={{
        display: 'flex',
        gap: 6,
        padding: 6,
        background: INK.room,
        borderBottom: `1px solid ${INK.line}`,
        alignItems: 'center',
        flexWrap: 'wrap',
      }}
    >
      <div style={{ width: 168 }}>
        <Choice
          label="Sheet"
          value={sheet}
          options={template.sheets.map((s) => ({ value: s.key, label: s.name }))}
          onChange={(next) => useProof.setState({ sheet: next, level: 0, news: null, view: { ...view, zoom: 0 } })}
        />
      </div>
      <div style={{ width: 196 }}>
        <Choice
          label="Effort"
          value={effort}
          options={EFFORTS}
          onChange={(next) => useProof.setState({ effort: next })}
        />
      </div>
      <div style={{ width: 176 }}>
        <Choice
          label="Beside it"
          value={beside ?? 'none'}
          options={[
            { value: 'none', label: 'nothing' },
            ...TRIED.filter((f) => f !== format).map((f) => ({ value: f, label: FORMATS[f].name })),
          ]}
          onChange={(next) => useProof.setState({ beside: next === 'none' ? null : (next as FormatKey) })}
        />
      </div>
      <Toggle on={smooth} onChange={(on) => useProof.setState({ smooth: on })}>
        As the game magnifies
      </Toggle>
      <Toggle on={onModel} onChange={(on) => useProof.setState({ onModel: on })}>
        On the model
      </Toggle>
      {flipped && (
        <Toggle on={asStored} onChange={(on) => useProof.setState({ asStored: on })}>
          As stored, upside down
        </Toggle>
      )}
      <output aria-label="Zoom" style={{ marginLeft: 'auto', fontFamily: MONO, fontSize: 12, color: INK.quiet }}>
        {Math.round(view.zoom * 100)} %
      </output>
    </div>
  );
}
