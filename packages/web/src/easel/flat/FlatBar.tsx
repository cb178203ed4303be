import { Button } from '@mui/material';
import { memo, useState } from 'react';
import type { LayerId } from '@wet-lacquer/core/livery/ids.ts';
import { shortNumber } from '@wet-lacquer/core/layers/data.ts';
import { dataOf, type Layer } from '@wet-lacquer/core/livery/layer.ts';
import { PROJECTORS } from '@wet-lacquer/core/livery/projector.ts';
import { findLayer } from '@wet-lacquer/core/livery/livery.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Mono } from '../../parts/text.tsx';
import { INK, MONO } from '../../theme.ts';
import { useEasel, usePlaced } from '../context.ts';
import { useSession, useSessionOf } from '../session.ts';
import { ChannelMenu, CHANNELS } from './menus/ChannelMenu.tsx';
import { GuidesMenu } from './menus/GuidesMenu.tsx';
import { SurroundMenu } from './menus/SurroundMenu.tsx';
import { ZoomMenu } from './menus/ZoomMenu.tsx';
import { useView } from './view.ts';

type Menus = 'guides' | 'channel' | 'surround' | 'zoom';
const chip = { background: INK.panel, minHeight: 26, py: '1px', px: 1, borderColor: INK.edge };

/** What lies along the foot of the flat view: guides, surround, zoom, and the chosen layer's numbers. */
export const FlatBar = memo(function FlatBar({ sheet, layer }: { sheet: TemplateSheet; layer: LayerId | null }) {
  const { guides, channel } = useSessionOf('guides', 'channel');
  const view = useView();
  const [menu, setMenu] = useState<{ what: Menus; at: HTMLElement } | null>(null);
  const open = (what: Menus) => (event: React.MouseEvent<HTMLElement>) => setMenu({ what, at: event.currentTarget });
  const of = (what: Menus) => ({ at: menu?.what === what ? menu.at : null, onClose: () => setMenu(null) });
  return (
    <div
      style={{
        position: 'absolute',
        left: 8,
        right: 8,
        bottom: 8,
        display: 'flex',
        flexWrap: 'wrap',
        gap: 6,
        alignItems: 'center',
        pointerEvents: 'none',
      }}
    >
      <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6, pointerEvents: 'auto' }}>
        <Button sx={chip} onClick={open('guides')} aria-haspopup="true">
          Guides: {guides.size === 0 ? 'none' : guides.size}
        </Button>
        <Button sx={chip} onClick={open('channel')} aria-haspopup="true">
          Channel: {CHANNELS.find((c) => c.key === channel)?.name.toLowerCase()}
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
          <Mono small>
            {Math.round(view.zoom * 100)} %{view.turn !== 0 && ` ${Math.round(view.turn)}°`}
          </Mono>
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
      <GuidesMenu sheet={sheet} {...of('guides')} />
      <ChannelMenu {...of('channel')} />
      <SurroundMenu {...of('surround')} />
      <ZoomMenu sheet={sheet} {...of('zoom')} />
    </div>
  );
});

/** Where a layer lies, in a line; empty: it lies nowhere in particular. */
const numbersOf = (layer: Layer): string => {
  if (layer.on) return `on the model, ${PROJECTORS[layer.on.kind].name.toLowerCase()}`;
  const own = dataOf(layer).numbers(layer);
  return 'x' in layer ? `x ${shortNumber(layer.x)} y ${shortNumber(layer.y)} ${own}`.trimEnd() : own;
};

/** Where the chosen layer lies, else what is under the pointer, else how large the sheet is. */
function Numbers({ sheet, layer }: { sheet: TemplateSheet; layer: LayerId | null }) {
  const { doc } = useEasel();
  const live = usePlaced(doc.use(({ livery }) => (layer && findLayer(livery, layer)?.layer) ?? null));
  const hover = useSession((s) => s.hover);
  const numbers = live && numbersOf(live);
  if (numbers) return numbers;
  if (hover && hover.sheet === sheet.key) return `x ${Math.floor(hover.x)} y ${Math.floor(hover.y)}`;
  return `${sheet.width} x ${sheet.height}`;
}
