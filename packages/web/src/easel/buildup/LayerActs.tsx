import { IconButton, Tooltip } from '@mui/material';
import type { ReactNode } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { layersOf } from '@wet-lacquer/core/livery/livery.ts';
import { Row } from '../../parts/layout.tsx';
import { INK } from '../../theme.ts';
import { duplicateLayer, groupLayers, moveLayer, removeLayer, toggle, ungroup } from '../actions.ts';
import { useEasel } from '../context.ts';
import { useSession, useSessionOf } from '../session.ts';
import {
  ArrowLeft,
  ArrowRight,
  ContentCopy,
  DeleteOutline,
  EyeOffOutline,
  EyeOutline,
  ImageFilterCenterFocus,
  LayersOffOutline,
  LayersOutline,
  PinOutline,
} from '../../parts/icons.tsx';

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
            {layer.hidden ? <EyeOffOutline fontSize="small" /> : <EyeOutline fontSize="small" />}
          </Act>
          <Act
            label={layer.locked ? 'Unlock' : 'Lock'}
            pressed={layer.locked}
            onClick={() => toggle(doc, layer.id, 'locked')}
          >
            <PinOutline fontSize="small" />
          </Act>
          <Act
            label={solo ? 'Show all layers again' : 'Show this layer alone'}
            pressed={solo}
            onClick={() => useSession.setState({ solo: !solo })}
          >
            <ImageFilterCenterFocus fontSize="small" />
          </Act>
          {layer.kind === 'group' && also.size === 0 ? (
            <Act label="Take the group apart" onClick={() => ungroup(doc, layer.id)}>
              <LayersOffOutline fontSize="small" />
            </Act>
          ) : (
            <Act
              label={also.size > 0 ? `Group these ${also.size + 1}` : 'Group'}
              onClick={() => groupLayers(doc, [layer.id, ...also])}
            >
              <LayersOutline fontSize="small" />
            </Act>
          )}
          <Act label="Put on earlier" disabled={layer.at === 0} onClick={() => moveLayer(doc, layer.id, layer.at - 1)}>
            <ArrowLeft fontSize="small" />
          </Act>
          <Act
            label="Put on later"
            disabled={layer.at === layer.last}
            onClick={() => moveLayer(doc, layer.id, layer.at + 1)}
          >
            <ArrowRight fontSize="small" />
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
