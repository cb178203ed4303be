import { Button } from '@mui/material';
import { lazy, startTransition, Suspense, use, useEffect, useMemo, useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { fillIn } from '@wet-lacquer/core/livery/livery.ts';
import { Column, Grow, Row } from '../parts/layout.tsx';
import { useNarrow } from '../lib/useNarrow.ts';
import { Folded, type Called } from './Folded.tsx';
import { liveryTabs } from '../shell/Opening.tsx';
import { LiveryTrail } from '../shell/LiveryTrail.tsx';
import { GoneBar } from '../people/GoneBar.tsx';
import { HereChips } from '../people/HereChips.tsx';
import { TopBar } from '../shell/TopBar.tsx';
import { Nothing } from '../parts/Notice.tsx';
import { ART, INK, MONO } from '../theme.ts';
import { commandFor, type Dialog, type Reach } from './commands/commands.ts';
import { isTaken, keyName } from './commands/keys.ts';
import { KeysDialog } from './commands/KeysDialog.tsx';
import { listenToClipboard } from './clipboard.ts';
import { Shelf } from './buildup/Shelf.tsx';
import { useEasel, useTemplate } from './context.ts';
import { FindDialog } from './FindDialog.tsx';
import { LeadLine } from './lead/LeadLine.tsx';
import { LeaveGuard } from './LeaveGuard.tsx';
import { FlatView } from './flat/FlatView.tsx';
import { Column as Inspector } from './inspector/Column.tsx';
import { useHearNotes, useNoting } from './notes/notes.ts';
import { NewerTemplate } from './NewerTemplate.tsx';
import { Resting, useRest } from './turntable/rest.tsx';
import { SavedMenu } from './SavedMenu.tsx';
import { useSides } from '../shell/sides.ts';
import { useSession } from './session.ts';
import { SetAsideBar } from './SetAsideBar.tsx';
import { VersionsDialog } from './versions/VersionsDialog.tsx';
import { SheetStrip } from './SheetStrip.tsx';
import { COLUMN_WIDTH, shelfHeight, STRIP_WIDTH } from './sizes.ts';
import { Hidden } from '../parts/text.tsx';
import { Magnify } from '../parts/icons.tsx';

/** three.js comes with the turntable; it is fetched with the easel, so that it is there when the server is not. */
const fetched = import('./turntable/Turntable.tsx').then(
  ({ Turntable }) => Turntable,
  () => NoTurntable,
);
const Turntable = lazy(async () => ({ default: await fetched }));

function NoTurntable() {
  return (
    <section aria-label="Turntable" style={{ height: '100%', background: INK.room }}>
      <Nothing title="The model could not be loaded">
        The server did not answer. Everything else works without it; it comes when the livery is opened anew.
      </Nothing>
    </section>
  );
}

/** The turntable before it is there. */
const Stage = () => <section aria-label="Turntable" style={{ height: '100%', background: ART.stage }} />;

/** Room that is kept for what is made later. */
const Room = (size: { width?: number; height?: string }) => (
  <div style={{ ...size, flex: 'none', background: size.width ? INK.panel : INK.deep }} />
);

function Model() {
  use(useEasel().sheetShown);
  return <Turntable />;
}

/** What is made after the sheet, in this order. */
const MADE = { bars: 1, column: 2, shelf: 3, model: 4 };

/**
 * How much of it there is already. The sheet comes first, and the renderers draw while the rest is made: piece by piece, so that what they
 * answer does not wait for all of it.
 */
function useMade(): number {
  const [made, setMade] = useState(0);
  useEffect(() => {
    if (made < MADE.model) startTransition(() => setMade(made + 1));
  }, [made]);
  return made;
}

export function Workspace() {
  const { doc } = useEasel();
  const template = useTemplate();
  const id = doc.use((s) => s.id);
  const resting = useRest((s) => s.resting);
  const made = useMade();
  const narrow = useNarrow();
  const swapped = useSides((s) => s.swapped);
  const [called, setCalled] = useState<Called>(null);
  const said = useSession((s) => s.said);
  const listed = useSession((s) => s.listOpen);
  const [dialog, setDialog] = useState<Dialog | null>(null);
  // In a small window the column makes room for the place of a note, and comes back to write it.
  useEffect(
    () =>
      useNoting.subscribe(({ pinning, place }, before) => {
        if (pinning && !before.pinning) setCalled(null);
        else if (place && !before.place) setCalled('details');
      }),
    [],
  );
  const reach = useMemo<Reach>(() => ({ doc, open: setDialog }), [doc, setDialog]);
  const name = doc.use(({ livery: { particulars } }) => fillIn(particulars.name ?? '', particulars));

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented) return;
      const command = commandFor(keyName(event), 'anywhere');
      // Finding is always at hand; everything else leaves fields, dialogs and menus their keys.
      if (!command || (isTaken(event.target) && command.always !== true)) return;
      event.preventDefault();
      if (command.can?.(reach) !== false) command.run(reach);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [reach]);
  useEffect(() => listenToClipboard(doc), [doc]);
  useHearNotes(doc);
  useEffect(() => {
    document.title = `${name}: Wet Lacquer`;
    return () => {
      document.title = 'Wet Lacquer';
    };
  }, [name]);

  const model = resting ? (
    <Resting />
  ) : (
    <Suspense fallback={<Stage />}>{made >= MADE.model ? <Model /> : <Stage />}</Suspense>
  );
  return (
    <Column full>
      <TopBar
        trail={
          <Row gap={10}>
            <span>
              <LiveryTrail name={name}>for {template.gameName}</LiveryTrail>
            </span>
            <HereChips />
          </Row>
        }
        tabs={liveryTabs(id)}
        end={
          made >= MADE.bars && (
            <>
              <SavedMenu onVersions={() => setDialog('versions')} />
              <Button size="small" startIcon={<Magnify />} onClick={() => setDialog('find')} sx={{ color: INK.quiet }}>
                Find {!narrow && <span style={{ fontFamily: MONO, fontSize: 11, marginLeft: 12 }}>Ctrl K</span>}
              </Button>
            </>
          )
        }
      />
      <GoneBar />
      <SetAsideBar />
      <LeaveGuard />
      <NewerTemplate />
      {made >= MADE.bars && <LeadLine />}
      <main
        style={{
          flex: 1,
          display: 'flex',
          flexDirection: swapped ? 'row-reverse' : 'row',
          minWidth: 0,
          minHeight: 0,
          position: 'relative',
        }}
      >
        <Hidden as="h1">{name}</Hidden>
        <Column grow shrink>
          <Row align="stretch" grow shrink>
            {made >= MADE.bars ? <SheetStrip /> : <Room width={STRIP_WIDTH} />}
            {narrow ? (
              <Grow shrink>
                <FlatView reach={reach} bars={made >= MADE.bars} />
              </Grow>
            ) : (
              <Group
                orientation="horizontal"
                resizeTargetMinimumSize={{ coarse: 44, fine: 10 }}
                style={{ flex: 1, minWidth: 0 }}
              >
                <Panel id="flat" defaultSize="62%" minSize="0%">
                  <FlatView reach={reach} bars={made >= MADE.bars} />
                </Panel>
                <Separator
                  aria-label="Between flat sheet and turntable"
                  style={{ width: 6, background: INK.deep, cursor: 'col-resize' }}
                />
                <Panel id="turntable" defaultSize="38%" minSize="0%">
                  {model}
                </Panel>
              </Group>
            )}
          </Row>
          {made >= MADE.shelf ? <Shelf reach={reach} /> : <Room height={shelfHeight(listed)} />}
        </Column>
        {narrow ? (
          <Folded called={called} onCall={setCalled}>
            {called === 'model' ? <Grow shrink>{model}</Grow> : <Inspector />}
          </Folded>
        ) : made >= MADE.column ? (
          <Inspector />
        ) : (
          <Room width={COLUMN_WIDTH} />
        )}
      </main>
      <Hidden as="div" role="status" aria-live="polite">
        {said}
      </Hidden>
      {dialog === 'find' && <FindDialog reach={reach} onClose={() => setDialog(null)} />}
      {dialog === 'versions' && <VersionsDialog onClose={() => setDialog(null)} />}
      {dialog === 'keys' && <KeysDialog onClose={() => setDialog(null)} />}
    </Column>
  );
}
