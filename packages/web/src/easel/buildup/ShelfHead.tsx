import Add from '@mui/icons-material/Add';
import CenterFocusStrong from '@mui/icons-material/CenterFocusStrongOutlined';
import LayersIcon from '@mui/icons-material/LayersOutlined';
import LayersClear from '@mui/icons-material/LayersClearOutlined';
import ContentCopy from '@mui/icons-material/ContentCopy';
import DeleteOutline from '@mui/icons-material/DeleteOutlined';
import East from '@mui/icons-material/East';
import ExpandLess from '@mui/icons-material/ExpandLess';
import ExpandMore from '@mui/icons-material/ExpandMore';
import PushPin from '@mui/icons-material/PushPinOutlined';
import Visibility from '@mui/icons-material/VisibilityOutlined';
import VisibilityOff from '@mui/icons-material/VisibilityOffOutlined';
import West from '@mui/icons-material/West';
import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  IconButton,
  InputBase,
  ListItemText,
  Menu,
  MenuItem,
  Tooltip,
} from '@mui/material';
import { memo, useState, type ReactNode } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { PHASES, type Phase } from '@wet-lacquer/core/livery/layer.ts';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import type { DecalCard } from '../../lib/types.ts';
import { DecalShelf } from '../../parts/DecalShelf.tsx';
import { INK } from '../../theme.ts';
import { addLayer, duplicateLayer, groupLayers, moveLayer, removeLayer, toggle, ungroup } from '../actions.ts';
import { useEasel, useTemplate } from '../context.ts';
import { useView } from '../flat/view.ts';
import { take } from '../hand.ts';
import { useSession, useSessionOf } from '../session.ts';
import { BakeDialog } from './BakeDialog.tsx';
import { decalLayer, MAKERS, makersFor, type Place } from './makers.ts';

const HEADS = PHASES.filter((phase) => MAKERS.some((maker) => maker.phase === phase));

/** The shelf's head: what each phase can make, and what can be done with the chosen layer. */
export const ShelfHead = memo(function ShelfHead({
  search,
  onSearch,
}: {
  search: string;
  onSearch(search: string): void;
}) {
  const { doc } = useEasel();
  const template = useTemplate();
  const {
    sheet: sheetKey,
    map,
    chosen,
    also,
    solo,
    listOpen,
  } = useSessionOf('sheet', 'map', 'chosen', 'also', 'solo', 'listOpen');
  const layer = doc.use(
    useShallow(({ livery }) => {
      const layers = layersOf(livery, sheetKey, map);
      const at = layers.findIndex(({ id }) => id === chosen);
      if (at < 0) return null;
      const { id, kind, hidden, locked } = layers[at];
      return { id, kind, hidden, locked, at, last: layers.length - 1 };
    }),
  );
  const [menu, setMenu] = useState<{ phase: Phase; at: HTMLElement } | null>(null);
  const [picking, setPicking] = useState(false);
  const [baking, setBaking] = useState(false);

  const placeOf = (): Place => {
    const sheet = template.sheets.find((s) => s.key === sheetKey)!;
    const view = useView.getState();
    const clamp = (value: number, size: number) => Math.round(Math.min(size * 0.95, Math.max(size * 0.05, value)));
    const { livery } = doc.use.getState();
    return { sheet, template, x: clamp(view.x, sheet.width), y: clamp(view.y, sheet.height), livery };
  };
  const pick = (decal: DecalCard) => {
    setPicking(false);
    void addLayer(doc, decalLayer(decal, placeOf()), 'Marks');
  };

  return (
    <div style={{ display: 'flex', alignItems: 'center', gap: 10, height: 34, flex: 'none', padding: '0 12px' }}>
      <h2 style={{ fontSize: 13, margin: 0, fontWeight: 600 }}>Build-up</h2>
      {HEADS.map((phase) => (
        <Button
          key={phase}
          size="small"
          aria-label={`Add to ${phase}`}
          aria-haspopup="true"
          onClick={(event) => setMenu({ phase, at: event.currentTarget })}
          endIcon={<Add sx={{ fontSize: '15px !important' }} />}
          sx={{ minHeight: 26, py: 0, px: 1, '& .MuiButton-endIcon': { ml: 0.5 } }}
        >
          {phase}
        </Button>
      ))}
      {listOpen && (
        <InputBase
          value={search}
          onChange={(event) => onSearch(event.target.value)}
          placeholder="Search layers"
          inputProps={{ 'aria-label': 'Search layers' }}
          sx={{
            width: 150,
            border: `1px solid ${INK.edge}`,
            borderRadius: '2px',
            px: 1,
            height: 26,
            background: INK.raised,
          }}
        />
      )}
      <div role="toolbar" aria-label="Chosen layer" style={{ marginLeft: 'auto', display: 'flex', gap: 2 }}>
        {layer && (
          <>
            <Act label={layer.hidden ? 'Show' : 'Hide'} onClick={() => toggle(doc, layer.id, 'hidden')}>
              {layer.hidden ? <VisibilityOff fontSize="small" /> : <Visibility fontSize="small" />}
            </Act>
            <Act
              label={layer.locked ? 'Unlock' : 'Lock'}
              pressed={layer.locked}
              onClick={() => toggle(doc, layer.id, 'locked')}
            >
              <PushPin fontSize="small" />
            </Act>
            <Act
              label={solo ? 'Show all layers again' : 'Show this layer alone'}
              pressed={solo}
              onClick={() => useSession.setState({ solo: !solo })}
            >
              <CenterFocusStrong fontSize="small" />
            </Act>
            {layer.kind === 'group' && also.size === 0 ? (
              <Act label="Take the group apart" onClick={() => ungroup(doc, layer.id)}>
                <LayersClear fontSize="small" />
              </Act>
            ) : (
              <Act
                label={also.size > 0 ? `Group these ${also.size + 1}` : 'Group'}
                onClick={() => groupLayers(doc, [layer.id, ...also])}
              >
                <LayersIcon fontSize="small" />
              </Act>
            )}
            <Act
              label="Put on earlier"
              disabled={layer.at === 0}
              onClick={() => moveLayer(doc, layer.id, layer.at - 1)}
            >
              <West fontSize="small" />
            </Act>
            <Act
              label="Put on later"
              disabled={layer.at === layer.last}
              onClick={() => moveLayer(doc, layer.id, layer.at + 1)}
            >
              <East fontSize="small" />
            </Act>
            <Act label="Duplicate" onClick={() => duplicateLayer(doc, layer.id)}>
              <ContentCopy fontSize="small" />
            </Act>
            <Act label="Delete" disabled={layer.locked} onClick={() => removeLayer(doc, layer.id)}>
              <DeleteOutline fontSize="small" />
            </Act>
          </>
        )}
      </div>
      <Button
        size="small"
        aria-expanded={listOpen}
        onClick={() => useSession.setState({ listOpen: !listOpen })}
        endIcon={listOpen ? <ExpandMore /> : <ExpandLess />}
        sx={{ minHeight: 26, py: 0, px: 1 }}
      >
        List
      </Button>
      <Menu anchorEl={menu?.at} open={menu !== null} onClose={() => setMenu(null)}>
        {makersFor(template)
          .filter((maker) => maker.phase === menu?.phase)
          .map((maker) => (
            <MenuItem
              key={maker.key}
              onClick={() => {
                setMenu(null);
                void addLayer(doc, maker.make(placeOf()), maker.phase);
                if (maker.key === 'brushwork') take('paint');
              }}
            >
              <ListItemText
                primary={maker.name}
                secondary={maker.what}
                slotProps={{ secondary: { sx: { fontSize: 12, color: INK.quiet } } }}
              />
            </MenuItem>
          ))}
        {menu?.phase === 'Base' && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              setBaking(true);
            }}
          >
            <ListItemText
              primary="Occlusion"
              secondary="shading of corners, baked from the model"
              slotProps={{ secondary: { sx: { fontSize: 12, color: INK.quiet } } }}
            />
          </MenuItem>
        )}
        {menu?.phase === 'Marks' && (
          <MenuItem
            onClick={() => {
              setMenu(null);
              setPicking(true);
            }}
          >
            <ListItemText
              primary="Decal"
              secondary="from the library, or a picture of your own"
              slotProps={{ secondary: { sx: { fontSize: 12, color: INK.quiet } } }}
            />
          </MenuItem>
        )}
      </Menu>
      {baking && (
        <BakeDialog sheet={template.sheets.find((s) => s.key === sheetKey)!} onClose={() => setBaking(false)} />
      )}
      <Dialog open={picking} onClose={() => setPicking(false)} fullWidth maxWidth="md" aria-labelledby="pick-decal">
        <DialogTitle id="pick-decal">Place a decal</DialogTitle>
        <DialogContent>
          <DecalShelf verb="Place" onChoose={pick} />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setPicking(false)}>Cancel</Button>
        </DialogActions>
      </Dialog>
    </div>
  );
});

function Act({
  label,
  disabled,
  pressed,
  onClick,
  children,
}: {
  label: string;
  disabled?: boolean;
  pressed?: boolean;
  onClick(): void;
  children: ReactNode;
}) {
  return (
    <Tooltip title={label}>
      <span>
        <IconButton
          size="small"
          aria-label={label}
          aria-pressed={pressed}
          disabled={disabled}
          onClick={onClick}
          color="inherit"
          sx={pressed ? { background: INK.accentDeep } : undefined}
        >
          {children}
        </IconButton>
      </span>
    </Tooltip>
  );
}
