import { Divider, MenuItem } from '@mui/material';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { cellAt } from '@wet-lacquer/core/surface/cells.ts';
import { turnToPart } from '../../commands/commands.ts';
import { useEasel } from '../../context.ts';
import { fitView, mirrorView, turnTo, upright, useView, zoomAt } from '../view.ts';
import { closing, FlatMenu, SlideItem, TickItem, type MenuProps } from './FlatMenu.tsx';

/** How near the view is, and how it is turned. */
export function ZoomMenu({ sheet, ...menu }: MenuProps & { sheet: TemplateSheet }) {
  const { doc } = useEasel();
  const view = useView();
  return (
    <FlatMenu {...menu}>
      <MenuItem onClick={closing(menu, () => useView.setState(fitView(view, sheet)))}>Whole sheet (0)</MenuItem>
      {sheet.cells && (
        <MenuItem onClick={closing(menu, () => useView.setState(fitView(view, cellInView(sheet, view))))}>
          The atlas cell in the middle
        </MenuItem>
      )}
      {[0.5, 1, 4, 16].map((zoom) => (
        <MenuItem
          key={zoom}
          onClick={closing(menu, () =>
            useView.setState(zoomAt(view, zoom / view.zoom, view.width / 2, view.height / 2)),
          )}
        >
          {zoom === 1 ? '100 %, texels as they are (1)' : `${zoom * 100} %`}
        </MenuItem>
      ))}
      <Divider />
      <SlideItem
        label="turn"
        name="Turn of the view"
        width={240}
        min={-180}
        max={180}
        step={1}
        value={Math.round(view.turn)}
        onChange={(value) => turnTo(Math.abs(value) < 4 ? 0 : value)}
      />
      <MenuItem dense onClick={closing(menu, () => turnToPart(doc))}>
        The part’s own up (W)
      </MenuItem>
      {[90, -90, 180].map((turn) => (
        <MenuItem key={turn} dense onClick={closing(menu, () => turnTo(turn))}>
          {turn === 180 ? 'Upside down' : turn > 0 ? 'A quarter to the right' : 'A quarter to the left'}
        </MenuItem>
      ))}
      <TickItem label="Mirrored (M)" checked={view.mirrored} onClick={mirrorView} />
      <MenuItem dense onClick={closing(menu, upright)}>
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
