import { Button, LinearProgress, Tab, Tabs } from '@mui/material';
import { useMemo, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import useSWR from 'swr';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { FlatLayout, type Showing } from './FlatLayout.tsx';
import { LocatedModel } from './LocatedModel.tsx';
import { Trail } from './Trail.tsx';

/** A subject: its sheets with their islands, its model, and what a painter should know before beginning. */
export function TemplateScreen() {
  const { hash } = useParams();
  const { data: template, error } = useSWR<Template>(`/templates/${hash}`, { revalidateOnFocus: false });
  const { data: layout } = useSWR<TemplateLayout>(template ? `/templates/${hash}/layout` : null, {
    revalidateOnFocus: false,
  });
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar trail={<Trail here={template && `${template.name}, ${template.gameName}`} />} />
      {error && !template && (
        <Nothing title="This template cannot be opened">
          <p>{sentenceOf(error)}</p>
        </Nothing>
      )}
      {!error && !(template && layout) && <LinearProgress aria-label="Reading the layout" />}
      {template && layout && <Shown hash={hash!} template={template} layout={layout} />}
    </div>
  );
}

function Shown({ hash, template, layout }: { hash: string; template: Template; layout: TemplateLayout }) {
  const [sheetKey, setSheet] = useState(template.sheets[0].key);
  const [chosen, setChosen] = useState<readonly number[]>([]);
  const [showing, setShowing] = useState<Showing>({ locator: true, art: true, wire: true });
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const remarks = (useLocation().state as { remarks?: string[] } | null)?.remarks ?? [];
  const sheet = template.sheets.find((s) => s.key === sheetKey) ?? template.sheets[0];
  const byNumber = useMemo(() => new Map(layout.islands.map((island) => [island.number, island])), [layout]);
  const show = (numbers: readonly number[]) => {
    const first = byNumber.get(numbers[0]);
    if (first) setSheet(first.sheet);
    setChosen(numbers);
  };
  const start = async () => {
    try {
      const { id } = await send<{ id: string }>('POST', '/liveries', {
        template: hash,
        name: `${template.name} livery`,
      });
      await navigate(`/liveries/${id}`);
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  const one = chosen.length === 1 ? byNumber.get(chosen[0]) : undefined;
  return (
    <main style={{ flex: 1, minHeight: 0, display: 'grid', gridTemplateColumns: '1fr 1fr 300px' }}>
      <section aria-label="Flat" style={{ display: 'flex', flexDirection: 'column', minWidth: 0, minHeight: 0 }}>
        <Tabs
          value={sheet.key}
          onChange={(_event, key: string) => setSheet(key)}
          variant="scrollable"
          aria-label="Sheets"
        >
          {template.sheets.map(({ key, name }) => (
            <Tab key={key} value={key} label={name} />
          ))}
        </Tabs>
        <FlatLayout
          key={sheet.key}
          hash={hash}
          template={template}
          sheet={sheet}
          islands={layout.islands}
          chosen={chosen}
          showing={showing}
          onChoose={(number) => setChosen(number === null ? [] : [number])}
        />
        <div style={{ display: 'flex', gap: 8, padding: 8, alignItems: 'center', background: INK.panel }}>
          {(['locator', 'wire', 'art'] as const).map((key) => (
            <Button
              key={key}
              aria-pressed={showing[key]}
              onClick={() => setShowing({ ...showing, [key]: !showing[key] })}
              sx={showing[key] ? { background: INK.accentDeep } : {}}
            >
              {{ locator: 'Locator', wire: 'Wire', art: 'Art' }[key]}
            </Button>
          ))}
          <span style={{ flex: 1 }} />
          <div style={{ width: 150 }}>
            <NumberField
              label="island"
              value={chosen.length === 1 ? chosen[0] : 0}
              digits={0}
              min={0}
              max={layout.islands.length}
              onCommit={(number) => show(number > 0 ? [number] : [])}
            />
          </div>
        </div>
      </section>
      <LocatedModel
        template={template}
        layout={layout}
        hash={hash}
        showing={showing}
        chosen={chosen}
        onChoose={(number) => show([number])}
      />
      <aside
        aria-label="About it"
        style={{
          overflow: 'auto',
          background: INK.panel,
          borderLeft: `1px solid ${INK.line}`,
          padding: '12px 14px',
          display: 'flex',
          flexDirection: 'column',
          gap: 10,
        }}
      >
        <Button variant="contained" color="primary" onClick={() => void start()}>
          Start a livery
        </Button>
        {problem && <Notice level="error">{problem}</Notice>}
        {remarks.length > 0 && (
          <Notice level="warning">
            <ul style={{ margin: 0, paddingLeft: 16 }}>
              {remarks.map((remark) => (
                <li key={remark}>{remark}</li>
              ))}
            </ul>
          </Notice>
        )}
        <section>
          <h2 style={{ fontSize: 13, margin: '0 0 4px' }}>{one ? `Island ${one.number}` : sheet.name}</h2>
          {one ? (
            <p style={{ margin: 0 }}>
              {one.parts.map((key) => template.parts.find((part) => part.key === key)?.name ?? key).join(', ')}
              {one.density !== null && `; ${Math.round(one.density)} texels per metre`}
              {one.mirrored && '; laid out mirrored'}.
            </p>
          ) : (
            <p style={{ margin: 0 }}>
              {sheet.width} x {sheet.height},{' '}
              {count(layout.islands.filter((i) => i.sheet === sheet.key).length, 'island')},{' '}
              {Math.round((layout.unused[sheet.key] ?? 0) * 100)} % unused
              {sheet.axis && `, ${sheet.axis.kind} axis at ${Math.round(sheet.axis.at)}`}.
            </p>
          )}
        </section>
        <section>
          <h2 style={{ fontSize: 13, margin: '0 0 4px' }}>What to know</h2>
          {layout.notes.length === 0 && <p style={{ margin: 0, color: INK.quiet }}>Nothing stands in the way.</p>}
          <ul style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 8 }}>
            {layout.notes.map((note, i) => (
              <li key={i} style={{ borderTop: `1px solid ${INK.line}`, paddingTop: 6 }}>
                {note.text} <span style={{ color: INK.quiet }}>{note.means}</span>{' '}
                {note.islands.length > 0 && (
                  <Button size="small" onClick={() => show(note.islands)}>
                    Show me
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 style={{ fontSize: 13, margin: '0 0 4px' }}>Parts</h2>
          <ul style={{ listStyle: 'none', margin: 0, padding: 0 }}>
            {template.parts.map((part) => {
              const islands = layout.islands.filter((island) => island.parts.includes(part.key)).map((i) => i.number);
              return (
                <li key={part.key}>
                  <button
                    type="button"
                    disabled={islands.length === 0}
                    onClick={() => show(islands)}
                    style={{
                      width: '100%',
                      textAlign: 'left',
                      border: 0,
                      background: 'none',
                      color: islands.length ? INK.text : INK.quiet,
                      font: 'inherit',
                      padding: '4px 0',
                      minHeight: 24,
                      cursor: islands.length ? 'pointer' : 'default',
                    }}
                  >
                    {part.name}{' '}
                    <span style={{ color: INK.quiet }}>{islands.length ? islands.join(', ') : 'not painted'}</span>
                  </button>
                </li>
              );
            })}
          </ul>
        </section>
      </aside>
    </main>
  );
}
