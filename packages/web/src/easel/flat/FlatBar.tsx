import { Button, Checkbox, Divider, FormControlLabel, Menu, MenuItem, Slider } from '@mui/material';
import { memo, useState, type ReactNode } from 'react';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { told } from '@wet-lacquer/core/layers/data.ts';
import { dataOf, type Layer } from '@wet-lacquer/core/livery/layer.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { cellAt } from '@wet-lacquer/core/surface/cells.ts';
import { INK, MONO } from '../../theme.ts';
import { turnToPart } from '../commands/commands.ts';
import { useEasel, usePlaced, useTemplate } from '../context.ts';
import {
  ownGuide,
  toggleGuide,
  useSession,
  type Channel,
  type SessionState,
  type Surround,
  useSessionOf,
} from '../session.ts';
import { GUIDES } from './guides.ts';
import { fit, mirrorView, turnTo, upright, useView, zoomAt } from './view.ts';

const CHANNELS: readonly { key: Channel; name: string; says: string }[] = [
  { key: 'all', name: 'Art', says: 'The art as it is' },
  { key: 'colour', name: 'Colour', says: 'Colour without alpha' },
  { key: 'red', name: 'Red', says: 'Red alone' },
  { key: 'green', name: 'Green', says: 'Green alone' },
  { key: 'blue', name: 'Blue', says: 'Blue alone' },
  { key: 'alpha', name: 'Alpha', says: 'Alpha alone' },
];
const UNDER: readonly { key: SessionState['under']; name: string }[] = [
  { key: 'checker', name: 'Checker under clear art' },
  { key: '#000000', name: 'Black under it' },
  { key: '#ffffff', name: 'White under it' },
];
/** A sheet without a model has none of these. */
const OF_ISLANDS: readonly string[] = ['wire', 'seams', 'silhouette'];
const SURROUNDS: readonly { key: Surround; name: string }[] = [
  { key: 'black', name: 'Black' },
  { key: 'grey', name: 'Mid grey' },
  { key: 'white', name: 'White' },
];
const OUTLINE_ROLES = { frame: 'safe frame', collider: 'collider' };
type Menus = 'guides' | 'channel' | 'surround' | 'zoom';
const chip = { background: INK.panel, minHeight: 26, py: '1px', px: 1, borderColor: INK.edge };

/** What lies along the foot of the flat view: guides, surround, zoom, and the chosen layer's numbers. */
export const FlatBar = memo(function FlatBar({ sheet, layer }: { sheet: TemplateSheet; layer: LayerId | null }) {
  const { doc } = useEasel();
  const { guides, surround, channel, under, ghost } = useSessionOf('guides', 'surround', 'channel', 'under', 'ghost');
  const template = useTemplate();
  const offered: readonly (typeof GUIDES)[number][] = [
    ...GUIDES.filter(({ key }) => !template.boards || !OF_ISLANDS.includes(key)),
    { key: 'locator' as const, name: `Locator: ${template.boards ? 'cells' : 'islands'} by colour and number` },
    ...(sheet.cells ? [{ key: 'cells' as const, name: 'Atlas cells' }] : []),
    ...(sheet.boxes?.length ? [{ key: 'boxes' as const, name: 'Parameter boxes' }] : []),
    ...(template.outlines ?? [])
      .filter((outline) => outline.sheet === sheet.key)
      .map((outline) => ({ key: ownGuide(outline.key), name: `${outline.name}, ${OUTLINE_ROLES[outline.role]}` })),
    ...(template.begin?.[sheet.key]?.length ? [{ key: 'ghost' as const, name: 'Ghost of what it began with' }] : []),
    ...(template.guides ?? [])
      .filter((guide) => guide.sheet === sheet.key)
      .map((guide) => ({ key: ownGuide(guide.key), name: guide.name })),
  ];
  const view = useView();
  const [menu, setMenu] = useState<{ what: Menus; at: HTMLElement } | null>(null);
  const open = (what: Menus) => (event: React.MouseEvent<HTMLElement>) => setMenu({ what, at: event.currentTarget });
  const close = () => setMenu(null);
  return (
    <div
      style={{
        position: 'absolute',
        left: 8,
        right: 8,
        bottom: 8,
        display: 'flex',
        gap: 6,
        alignItems: 'center',
        pointerEvents: 'none',
      }}
    >
      <div style={{ display: 'flex', gap: 6, pointerEvents: 'auto' }}>
        <Button sx={chip} onClick={open('guides')} aria-haspopup="true">
          Guides: {guides.size === 0 ? 'none' : guides.size}
        </Button>
        <Button sx={chip} onClick={open('channel')} aria-haspopup="true">
          Channel: {CHANNELS.find((c) => c.key === channel)!.name.toLowerCase()}
        </Button>
        <Button sx={chip} onClick={open('surround')} aria-haspopup="true">
          Surround
        </Button>
        <Button
          sx={chip}
          onClick={open('zoom')}
          aria-haspopup="true"
          aria-label={`Zoom ${Math.round(view.zoom * 100)} percent`}
        >
          <span style={{ fontFamily: MONO, fontSize: 12 }}>
            {Math.round(view.zoom * 100)} %{view.turn !== 0 && ` ${Math.round(view.turn)}°`}
          </span>
          {view.mirrored && <span style={{ marginLeft: 6 }}>mirrored</span>}
        </Button>
      </div>
      <output
        aria-label="Position"
        style={{
          marginLeft: 'auto',
          background: INK.panel,
          border: `1px solid ${INK.edge}`,
          borderRadius: 2,
          padding: '3px 8px',
          fontFamily: MONO,
          fontSize: 12,
          whiteSpace: 'nowrap',
          overflow: 'hidden',
        }}
      >
        <Numbers sheet={sheet} layer={layer} />
      </output>
      <Menu anchorEl={menu?.at} open={menu?.what === 'guides'} onClose={close}>
        {offered.map(({ key, name, fromZoom = 0 }) => (
          <TickItem key={key} label={name} checked={guides.has(key)} onClick={() => toggleGuide(key)}>
            {view.zoom < fromZoom && <span style={{ color: INK.quiet, marginLeft: 8 }}>from {fromZoom * 100} %</span>}
          </TickItem>
        ))}
        {guides.has('ghost') && (
          <li style={{ padding: '2px 16px', width: 260 }}>
            <label style={{ display: 'flex', gap: 10, alignItems: 'center', color: INK.quiet }}>
              strength
              <Slider
                size="small"
                aria-label="Strength of the ghost"
                min={5}
                max={100}
                value={Math.round(ghost.strength * 100)}
                onChange={(_event, value) => useSession.setState({ ghost: { ...ghost, strength: value / 100 } })}
              />
            </label>
            <FormControlLabel
              control={
                <Checkbox
                  size="small"
                  checked={ghost.below}
                  onChange={() => useSession.setState({ ghost: { ...ghost, below: !ghost.below } })}
                />
              }
              label="under the art"
            />
          </li>
        )}
        <MenuItem
          onClick={() =>
            useSession.setState({
              guides: guides.size > 0 ? new Set() : new Set(GUIDES.map((g) => g.key).filter((k) => k !== 'silhouette')),
            })
          }
        >
          {guides.size > 0 ? 'All off' : 'All on'}
        </MenuItem>
      </Menu>
      <Menu anchorEl={menu?.at} open={menu?.what === 'channel'} onClose={close}>
        {CHANNELS.map(({ key, says }) => (
          <MenuItem
            key={key}
            dense
            selected={channel === key}
            onClick={() => {
              useSession.setState({ channel: key });
              close();
            }}
          >
            {says}
          </MenuItem>
        ))}
        <Divider />
        {UNDER.map(({ key, name }) => (
          <MenuItem key={key} dense selected={under === key} onClick={() => useSession.setState({ under: key })}>
            {name}
          </MenuItem>
        ))}
        <li style={{ display: 'flex', gap: 8, alignItems: 'center', padding: '4px 16px' }}>
          <label style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
            Another colour under it
            <input
              type="color"
              aria-label="Colour under clear art"
              value={under === 'checker' ? '#808080' : under}
              onChange={(event) => useSession.setState({ under: event.target.value as `#${string}` })}
              style={{ width: 34, height: 24, padding: 0, border: `1px solid ${INK.edge}`, background: 'none' }}
            />
          </label>
        </li>
      </Menu>
      <Menu anchorEl={menu?.at} open={menu?.what === 'surround'} onClose={close}>
        {SURROUNDS.map(({ key, name }) => (
          <MenuItem
            key={key}
            selected={surround === key}
            onClick={() => {
              useSession.setState({ surround: key });
              close();
            }}
          >
            {name}
          </MenuItem>
        ))}
      </Menu>
      <Menu anchorEl={menu?.at} open={menu?.what === 'zoom'} onClose={close}>
        <MenuItem
          onClick={() => {
            useView.setState(fit(view, sheet));
            close();
          }}
        >
          Whole sheet (0)
        </MenuItem>
        {sheet.cells && (
          <MenuItem
            onClick={() => {
              useView.setState(fit(view, cellInView(sheet, view)));
              close();
            }}
          >
            The atlas cell in the middle
          </MenuItem>
        )}
        {[0.5, 1, 4, 16].map((zoom) => (
          <MenuItem
            key={zoom}
            onClick={() => {
              useView.setState(zoomAt(view, zoom / view.zoom, view.width / 2, view.height / 2));
              close();
            }}
          >
            {zoom === 1 ? '100 %, texels as they are (1)' : `${zoom * 100} %`}
          </MenuItem>
        ))}
        <Divider />
        <li style={{ padding: '2px 16px', width: 240 }}>
          <label style={{ display: 'flex', gap: 10, alignItems: 'center', color: INK.quiet }}>
            turn
            <Slider
              size="small"
              aria-label="Turn of the view"
              min={-180}
              max={180}
              step={1}
              value={Math.round(view.turn)}
              onChange={(_event, value) => turnTo(Math.abs(value) < 4 ? 0 : value)}
            />
          </label>
        </li>
        <MenuItem
          dense
          onClick={() => {
            turnToPart(doc);
            close();
          }}
        >
          The part’s own up (W)
        </MenuItem>
        {[90, -90, 180].map((turn) => (
          <MenuItem
            key={turn}
            dense
            onClick={() => {
              turnTo(turn);
              close();
            }}
          >
            {turn === 180 ? 'Upside down' : turn > 0 ? 'A quarter to the right' : 'A quarter to the left'}
          </MenuItem>
        ))}
        <TickItem label="Mirrored (M)" checked={view.mirrored} onClick={mirrorView} />
        <MenuItem
          dense
          onClick={() => {
            upright();
            close();
          }}
        >
          Upright (U)
        </MenuItem>
      </Menu>
    </div>
  );
});

interface TickItemProps {
  label: string;
  checked: boolean;
  onClick(): void;
  /** Beside the label. */
  children?: ReactNode;
}

/** A line of a menu that is ticked or not; the menu stays open. */
function TickItem({ label, checked, onClick, children }: TickItemProps) {
  return (
    <MenuItem dense disableRipple sx={{ py: 0 }} onClick={onClick}>
      <FormControlLabel
        control={<Checkbox size="small" checked={checked} tabIndex={-1} />}
        label={label}
        onClick={(event) => event.preventDefault()}
      />
      {children}
    </MenuItem>
  );
}

/** The cell of an atlas that lies in the middle of the view, in texels; the whole sheet when none does. */
function cellInView(sheet: TemplateSheet, { x, y }: { x: number; y: number }) {
  const cell = cellAt(sheet, Math.max(0, Math.min(sheet.width - 1, x)), Math.max(0, Math.min(sheet.height - 1, y)));
  return cell ? { ...cell, width: cell.right - cell.left, height: cell.bottom - cell.top } : sheet;
}

const numbersOf = (layer: Extract<Layer, { x: number }>): string =>
  `x ${told(layer.x)} y ${told(layer.y)} ${dataOf(layer).numbers(layer)}`.trimEnd();

/** Where the chosen layer lies, else what is under the pointer, else how large the sheet is. */
function Numbers({ sheet, layer }: { sheet: TemplateSheet; layer: LayerId | null }) {
  const { doc } = useEasel();
  const live = usePlaced(doc.use(({ livery }) => (layer && findLayer(livery, layer)?.layer) ?? null));
  const hover = useSession((s) => s.hover);
  if (live && 'x' in live) return numbersOf(live);
  if (hover && hover.sheet === sheet.key) return `x ${Math.floor(hover.x)} y ${Math.floor(hover.y)}`;
  return `${sheet.width} x ${sheet.height}`;
}
