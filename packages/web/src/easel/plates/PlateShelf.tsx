import type { KeyboardEvent } from 'react';
import { CUT_OFF } from '../../parts/text.tsx';
import { CONDENSED, INK } from '../../theme.ts';
import { commandFor, type Reach } from '../commands/commands.ts';
import { keyName } from '../commands/keys.ts';
import { useLivery, useTemplate } from '../context.ts';
import { SpineName } from '../buildup/Spine.tsx';
import { choosePlate, useSession } from '../session.ts';
import { showPicture } from './acts.ts';

/** The plates at the end of the shelf: what stands on the model above all paint. */
export function PlateShelf({ reach }: { reach: Reach }) {
  const { plates = [] } = useLivery();
  const template = useTemplate();
  const chosen = useSession((s) => s.plate);
  if (plates.length === 0) return null;
  const at = plates.findIndex(({ id }) => id === chosen);
  const key = (event: KeyboardEvent<HTMLUListElement>) => {
    const by = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[event.key];
    const { plate: under } = (event.target as HTMLElement).dataset;
    const here = plates.findIndex(({ id }) => id === under);
    if (by !== undefined) {
      const next = plates[Math.max(0, Math.min(plates.length - 1, here + by))];
      choosePlate(next.id);
      event.currentTarget.querySelector<HTMLElement>(`[data-plate="${CSS.escape(next.id)}"]`)?.focus();
    } else if ((event.key === 'Enter' || event.key === ' ') && here !== at) choosePlate(plates[here].id);
    else if (event.key === 'Enter') {
      if (template.sheets.some(({ key: sheet }) => sheet === plates[here].sheet)) showPicture(plates[here]);
    } else {
      const name = keyName(event);
      const command = commandFor(name, 'shelf') ?? commandFor(name, 'anywhere');
      if (!command) return;
      if (command.can?.(reach) !== false) command.run(reach);
    }
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div
      style={{
        flex: 'none',
        maxWidth: '42%',
        minHeight: 0,
        display: 'flex',
        flexDirection: 'column',
        borderLeft: `1px solid ${INK.edge}`,
        padding: '0 12px 4px',
      }}
    >
      <ul
        role="listbox"
        aria-label="Plates"
        aria-orientation="horizontal"
        onKeyDown={key}
        style={{
          flex: 1,
          minHeight: 0,
          display: 'flex',
          gap: 3,
          overflowX: 'auto',
          margin: 0,
          padding: 0,
          listStyle: 'none',
        }}
      >
        {plates.map((plate, i) => {
          const on = plate.id === chosen;
          const says = [plate.name, 'plate', plate.partner && 'on both sides', plate.hidden && 'hidden']
            .filter(Boolean)
            .join(', ');
          return (
            <li
              key={plate.id}
              role="option"
              aria-selected={on}
              aria-label={says}
              title={says}
              data-plate={plate.id}
              tabIndex={on || (at < 0 && i === 0) ? 0 : -1}
              onClick={() => choosePlate(plate.id)}
              style={{
                flex: 'none',
                width: on ? 118 : 30,
                display: 'flex',
                alignItems: on ? 'flex-start' : 'stretch',
                // A plate stands on two feet.
                border: `1px ${plate.hidden ? 'dashed' : 'solid'} ${on ? INK.accent : INK.edge}`,
                borderBottomWidth: 4,
                borderRadius: 2,
                background: plate.hidden ? 'transparent' : on ? INK.raised : INK.panel,
                color: plate.hidden ? INK.quiet : INK.text,
                cursor: 'pointer',
                outlineOffset: -2,
              }}
            >
              {on ? (
                <span style={{ padding: '4px 6px', minWidth: 0 }}>
                  <span style={{ display: 'block', fontWeight: 600, ...CUT_OFF }}>{plate.name}</span>
                  <span style={{ display: 'block', color: INK.quiet, fontSize: 11, ...CUT_OFF }}>
                    {plate.form.kind}
                    {plate.partner ? ', both sides' : ''}
                  </span>
                </span>
              ) : (
                <SpineName layer={plate} />
              )}
            </li>
          );
        })}
      </ul>
      <div
        aria-hidden
        style={{
          flex: 'none',
          height: 17,
          marginTop: 4,
          borderTop: `1px solid ${INK.edge}`,
          fontFamily: CONDENSED,
          fontSize: 11.5,
          color: INK.quiet,
        }}
      >
        plates
      </div>
    </div>
  );
}
