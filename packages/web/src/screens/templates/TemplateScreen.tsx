import { LinearProgress, Tab, Tabs } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import useSWR, { mutate } from 'swr';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { TemplateLayout } from '@wet-lacquer/core/surface/templateLayout.ts';
import { Toggle } from '../../parts/Toggle.tsx';
import { Columns } from '../../parts/Columns.tsx';
import { Column } from '../../parts/layout.tsx';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { onlyLatest, send, sentenceOf } from '../../lib/api.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { ShareButton } from '../../people/ShareButton.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { AboutColumn } from './AboutColumn.tsx';
import { FlatLayout, type Box, type Showing } from './FlatLayout.tsx';
import { LocatedModel } from './LocatedModel.tsx';
import { PartsColumn } from './PartsColumn.tsx';
import { SheetColumn } from './SheetColumn.tsx';
import { Trail } from './Trail.tsx';
import { LookingContext, type Looking } from './useLooking.ts';
import { Hidden } from '../../parts/text.tsx';

/** What the making of a template had to say. */
interface Carried {
  remarks?: string[];
}
type Column = 'about' | 'parts' | 'sheet';
const COLUMNS: readonly { key: Column; label: string }[] = [
  { key: 'about', label: 'What is where' },
  { key: 'parts', label: 'Parts' },
  { key: 'sheet', label: 'Sheet' },
];

/** A subject: its sheets with their islands, its model, and what a painter should know of it or can settle. */
export function TemplateScreen() {
  const hash = useRouteParam('hash');
  // A change brings another template: what was there stays until that is here.
  const stay = { revalidateOnFocus: false, keepPreviousData: true };
  const { data: template, error } = useSWR<Template>(`/templates/${hash}`, stay);
  // Islands are there before it is known which of them lie on one another.
  const [forIslands] = useState(onlyLatest);
  const [forNotes] = useState(onlyLatest);
  const { data: islands } = useSWR<TemplateLayout>(`/templates/${hash}/layout?notes=no`, forIslands, stay);
  const { data: whole } = useSWR<TemplateLayout>(islands && `/templates/${hash}/layout`, forNotes, stay);
  const layout = whole ?? islands;
  return (
    <Column full>
      <TopBar
        trail={<Trail here={template && `${template.name}, ${template.gameName}`} />}
        end={template && <ShareButton kind="template" object={hash} name={template.name} />}
      />
      {error && template && <Notice level="error">{sentenceOf(error)}</Notice>}
      {error && !template && (
        <Nothing title="This template cannot be opened">
          <p>{sentenceOf(error)}</p>
        </Nothing>
      )}
      {!error && !(template && layout) && <LinearProgress aria-label="Reading the layout" />}
      {template && layout && <Shown hash={hash} template={template} layout={layout} />}
    </Column>
  );
}

function Shown({ hash, template, layout }: { hash: string; template: Template; layout: TemplateLayout }) {
  const navigate = useNavigate();
  const carried = (useLocation().state as Carried | null) ?? {};
  const [sheetKey, setSheet] = useState(template.sheets[0].key);
  const [chosen, setChosen] = useState<readonly number[]>([]);
  const [column, setColumn] = useState<Column>('about');
  const [showing, setShowing] = useState<Showing>({
    locator: !template.boards,
    art: true,
    wire: !template.boards,
  });
  const [problem, setProblem] = useState<string | null>(null);
  const [outlined, setOutlined] = useState<string | null>(null);
  const [drawing, setDrawing] = useState<{ done(box: Box): void } | null>(null);
  const sheet = template.sheets.find((s) => s.key === sheetKey) ?? template.sheets[0];
  const byNumber = useMemo(() => new Map(layout.islands.map((island) => [island.number, island])), [layout]);
  const show = (numbers: readonly number[]) => {
    const first = byNumber.get(numbers[0]);
    if (first) setSheet(first.sheet);
    setChosen(numbers);
  };
  const pick = (number: number | null, add: boolean) => {
    if (number === null) setChosen([]);
    else if (!add) show([number]);
    else setChosen(chosen.includes(number) ? chosen.filter((n) => n !== number) : [...chosen, number]);
  };
  const [underWay, setUnderWay] = useState(0);
  /** The template that the last change has made, and the changes still to come: each is made of what the one before it left. */
  const line = useRef({ hash, end: Promise.resolve() });
  useEffect(() => {
    line.current.hash = hash;
  }, [hash]);
  const made = (path: string, body: unknown): Promise<void> => {
    const one = async () => {
      setProblem(null);
      try {
        const { hash: next } = await send<{ hash: string }>('POST', `/templates/${line.current.hash}/${path}`, body);
        void mutate('/templates');
        if (next === line.current.hash) return;
        line.current.hash = next;
        await navigate(`/templates/${next}`);
      } catch (failure) {
        setProblem(sentenceOf(failure));
      } finally {
        setUnderWay((many) => many - 1);
      }
    };
    setUnderWay((many) => many + 1);
    line.current.end = line.current.end.then(one);
    return line.current.end;
  };
  const looking: Looking = {
    hash,
    template,
    layout,
    change: (...changes) => made('changes', { changes }),
    outline: (from) => made('outlines', from),
    takeIn: (taking) => made('takings', taking),
    outlined,
    showOutline: (key) => {
      setOutlined(key);
      if (key !== null) setColumn('sheet');
    },
  };
  return (
    <LookingContext value={looking}>
      <Columns sizes={['1fr', '1fr', '320px']} heights={['70vh', '60vh', 'max-content']}>
        <Hidden as="h1">{template.name}</Hidden>
        <Column aria-label="Flat" as="section" shrink>
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
            sheet={sheet}
            chosen={chosen}
            showing={showing}
            drawing={drawing !== null}
            onChoose={pick}
            onDrawn={(box) => {
              drawing?.done(box);
              setDrawing(null);
            }}
          />
          <div style={{ display: 'flex', gap: 8, padding: 8, alignItems: 'center', background: INK.panel }}>
            {(template.boards ? (['locator', 'art'] as const) : (['locator', 'wire', 'art'] as const)).map((key) => (
              <Toggle key={key} on={showing[key]} onChange={(on) => setShowing({ ...showing, [key]: on })}>
                {{ locator: 'Locator', wire: 'Wire', art: 'Art' }[key]}
              </Toggle>
            ))}
            <span style={{ flex: 1, color: INK.quiet, fontSize: 12 }}>
              {drawing
                ? 'Drag over the sheet'
                : chosen.length > 1 && `${chosen.length} ${template.boards ? 'cells' : 'islands'}`}
            </span>
            <div style={{ width: 130 }}>
              <NumberField
                label={template.boards ? 'cell' : 'island'}
                value={chosen.length === 1 ? chosen[0] : 0}
                digits={0}
                min={0}
                max={layout.islands.length}
                onCommit={(number) => show(number > 0 ? [number] : [])}
              />
            </div>
          </div>
        </Column>
        <LocatedModel showing={showing} chosen={chosen} onChoose={pick} />
        <aside
          aria-label="About it"
          style={{
            overflow: 'auto',
            background: INK.panel,
            borderLeft: `1px solid ${INK.line}`,
            display: 'flex',
            flexDirection: 'column',
          }}
        >
          <Tabs value={column} onChange={(_event, key: Column) => setColumn(key)} aria-label="About it">
            {COLUMNS.map(({ key, label }) => (
              <Tab key={key} value={key} label={label} sx={{ minWidth: 70 }} />
            ))}
          </Tabs>
          <Column gap={12} pad="12px 14px">
            {underWay > 0 && <LinearProgress aria-label="Making the change" />}
            {problem && <Notice level="error">{problem}</Notice>}
            {column === 'about' && (
              <AboutColumn sheet={sheet} chosen={chosen} remarks={carried.remarks ?? []} onShow={show} />
            )}
            {column === 'parts' && <PartsColumn chosen={chosen} onShow={show} />}
            {column === 'sheet' && (
              <SheetColumn key={sheet.key} sheet={sheet} onDraw={(done) => setDrawing({ done })} />
            )}
          </Column>
        </aside>
      </Columns>
    </LookingContext>
  );
}
