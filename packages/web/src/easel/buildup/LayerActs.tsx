import CenterFocusStrong from '@mui/icons-material/CenterFocusStrongOutlined';
import ContentCopy from '@mui/icons-material/ContentCopy';
import DeleteOutline from '@mui/icons-material/DeleteOutlined';
import East from '@mui/icons-material/East';
import LayersClear from '@mui/icons-material/LayersClearOutlined';
import LayersIcon from '@mui/icons-material/LayersOutlined';
import PushPin from '@mui/icons-material/PushPinOutlined';
import Visibility from '@mui/icons-material/VisibilityOutlined';
import VisibilityOff from '@mui/icons-material/VisibilityOffOutlined';
import West from '@mui/icons-material/West';
import { IconButton, Tooltip } from '@mui/material';
import type { ReactNode } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { Row } from '../../parts/layout.tsx';
import { INK } from '../../theme.ts';
import { duplicateLayer, groupLayers, moveLayer, removeLayer, toggle, ungroup } from '../actions.ts';
import { useEasel } from '../context.ts';
import { useSession, useSessionOf } from '../session.ts';

/** What can be done with the chosen layer. */
export function LayerActs() {
  const { doc } = useEasel();
  const { sheet, map, chosen, also, solo } = useSessionOf('sheet', 'map', 'chosen', 'also', 'solo');
  const layer = doc.use(
    useShallow(({ livery }) => {
      const layers = layersOf(livery, sheet, map);
      const at = layers.findIndex(({ id }) => id === chosen);
      if (at < 0) return null;
      const { id, kind, hidden, locked } = layers[at];
      return { id, kind, hidden, locked, at, last: layers.length - 1 };
    }),
  );
  return (
    <Row role="toolbar" aria-label="Chosen layer" align="stretch" gap={2} end>
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
          <Act label="Put on earlier" disabled={layer.at === 0} onClick={() => moveLayer(doc, layer.id, layer.at - 1)}>
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
    </Row>
  );
}

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
