import { useEffect, useRef, useState } from 'react';
import { hexOfRgb } from '@wet-lacquer/core/colour/hex.ts';
import { newColourId } from '@wet-lacquer/core/livery/ids.ts';
import type { Reference } from '@wet-lacquer/core/livery/livery.ts';
import { context2d } from '../../parts/context2d.ts';
import { INK, MONO } from '../../theme.ts';
import { useEasel, useLivery } from '../context.ts';
import { announce, useSession } from '../session.ts';
import { texelAt, toPaper, toScreen, useView } from './view.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** Reference pictures, pinned beside or over the sheet: they can be moved, and a click takes the colour there into the scheme. */
export function PinnedPictures() {
  const livery = useLivery();
  const sheet = useSession((s) => s.sheet);
  return (livery.references ?? [])
    .filter((one) => one.sheet === sheet && !one.pairs)
    .map((one) => <Pinned key={one.id} one={one} />);
}

function Pinned({ one }: { one: Reference }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const view = useView();
  const canvas = useRef<HTMLCanvasElement>(null);
  /** The picture that is drawn: nothing can be taken of it before. */
  const [ready, setReady] = useState<string | null>(null);
  const [under, setUnder] = useState<string | null>(null);
  const [shift, setShift] = useState({ x: 0, y: 0 });
  useEffect(() => {
    let wanted = true;
    const picture = new Image();
    picture.src = `/api/blobs/${one.blob}/picture`;
    void picture.decode().then(
      () => {
        const to = canvas.current;
        if (!wanted || !to) return;
        Object.assign(to, { width: picture.naturalWidth, height: picture.naturalHeight });
        context2d(to, { willReadFrequently: true }).drawImage(picture, 0, 0);
        setReady(one.blob);
      },
      () => {},
    );
    return () => {
      wanted = false;
    };
  }, [one.blob]);
  const hexAt = (event: { clientX: number; clientY: number }): string | null => {
    const to = canvas.current!;
    const at = texelAt(to.closest('[role="application"]')!, event);
    const x = Math.floor(((at.x - one.left) / one.width) * to.width);
    const y = Math.floor(((at.y - one.top) / one.height) * to.height);
    const [r, g, b, a] = context2d(to).getImageData(x, y, 1, 1).data;
    return a < 8 ? null : hexOfRgb([r, g, b]);
  };
  const take = (hex: string) => {
    if (livery.scheme.some((colour) => colour.hex === hex)) return announce(`${hex} is in the scheme already`);
    doc.commit(
      {
        do: 'add-colour',
        colour: { id: newColourId(), name: cutTo(`From ${one.name}`, 60), hex },
        index: livery.scheme.length,
      },
      `Take ${hex} from ${one.name}`,
    );
    useSession.setState({ column: 'scheme' });
    announce(`${hex} is in the scheme`);
  };
  const press = (down: React.PointerEvent<HTMLCanvasElement>) => {
    down.stopPropagation();
    const way = (event: PointerEvent) => toPaper(view, event.clientX - down.clientX, event.clientY - down.clientY);
    const move = (event: PointerEvent) => {
      const { x, y } = way(event);
      setShift({ x: x / view.zoom, y: y / view.zoom });
    };
    const up = (event: PointerEvent) => {
      removeEventListener('pointermove', move);
      removeEventListener('pointerup', up);
      setShift({ x: 0, y: 0 });
      const { x, y } = way(event);
      if (Math.hypot(x, y) < 4) {
        const hex = hexAt(event);
        if (hex) take(hex);
        return;
      }
      const set = { left: Math.round(one.left + x / view.zoom), top: Math.round(one.top + y / view.zoom) };
      doc.commit({ do: 'move-reference', reference: one.id, set });
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', up);
  };
  const at = toScreen(view, one.left + shift.x, one.top + shift.y);
  return (
    <figure
      style={{ position: 'absolute', left: at.x, top: at.y, margin: 0, width: one.width * view.zoom }}
      onPointerLeave={() => setUnder(null)}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Reference ${one.name}`}
        aria-busy={ready !== one.blob}
        onPointerDown={press}
        onPointerMove={(event) => {
          event.stopPropagation();
          setUnder(hexAt(event));
        }}
        style={{
          display: 'block',
          width: '100%',
          height: one.height * view.zoom,
          cursor: ready === one.blob ? 'crosshair' : 'progress',
          outline: `1px dashed ${INK.edge}`,
        }}
      />
      <figcaption
        style={{
          display: 'flex',
          gap: 6,
          alignItems: 'center',
          background: INK.panel,
          fontSize: 11,
          padding: '1px 5px',
          width: 'max-content',
          maxWidth: '100%',
        }}
      >
        {under && (
          <span aria-hidden style={{ width: 12, height: 12, background: under, border: `1px solid ${INK.edge}` }} />
        )}
        <span style={{ fontFamily: under ? MONO : undefined }}>{under ? `${under}: click takes it` : one.name}</span>
      </figcaption>
    </figure>
  );
}
