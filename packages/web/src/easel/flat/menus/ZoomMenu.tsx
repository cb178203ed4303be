import { Divider, MenuItem, Slider } from '@mui/material';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { cellAt } from '@wet-lacquer/core/surface/cells.ts';
import { INK } from '../../../theme.ts';
import { turnToPart } from '../../commands/commands.ts';
import { useEasel } from '../../context.ts';
import { fitView, mirrorView, turnTo, upright, useView, zoomAt } from '../view.ts';
import { FlatMenu, TickItem, type MenuProps } from './FlatMenu.tsx';

/** How near the view is, and how it is turned. */
export function ZoomMenu({ sheet, ...menu }: MenuProps & { sheet: TemplateSheet }) {
  const { doc } = useEasel();
  const view = useView();
  return (
    <FlatMenu {...menu}>
      <MenuItem
        onClick={() => {
          useView.setState(fitView(view, sheet));
          menu.onClose();
        }}
      >
        Whole sheet (0)
      </MenuItem>
      {sheet.cells && (
        <MenuItem
          onClick={() => {
            useView.setState(fitView(view, cellInView(sheet, view)));
            menu.onClose();
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
            menu.onClose();
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
          menu.onClose();
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
            menu.onClose();
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
          menu.onClose();
        }}
      >
        Upright (U)
      </MenuItem>
    </FlatMenu>
  );
}

/** The cell of an atlas that lies in the middle of the view, in texels; the whole sheet when none does. */
function cellInView(sheet: TemplateSheet, { x, y }: { x: number; y: number }) {
  const cell = cellAt(sheet, Math.max(0, Math.min(sheet.width - 1, x)), Math.max(0, Math.min(sheet.height - 1, y)));
  return cell ? { ...cell, width: cell.right - cell.left, height: cell.bottom - cell.top } : sheet;
}
