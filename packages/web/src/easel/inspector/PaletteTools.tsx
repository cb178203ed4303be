import { Button, Checkbox, Dialog, Menu, MenuItem } from '@mui/material';
import { useRef, useState } from 'react';
import {
  paletteOf,
  readPalette,
  writeHexList,
  writeTokens,
  type PaletteColour,
} from '@wet-lacquer/core/colour/palette.ts';
import { isZip } from '@wet-lacquer/core/files/zip.ts';
import { newColourId } from '@wet-lacquer/core/livery/ids.ts';
import type { SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import { packKit } from '@wet-lacquer/core/kit/kit.ts';
import type { Parcel } from '@wet-lacquer/core/livery/parcel.ts';
import { slugOf } from '@wet-lacquer/core/livery/slug.ts';
import { Grow, Row } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { context2d } from '../../parts/context2d.ts';
import { sendFile, sentenceOf, takeBytes } from '../../lib/api.ts';
import { saveFile } from '../../lib/saveFile.ts';
import { count } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';
import { bringKit } from '../kit/kit.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { announce } from '../session.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

const MOST = 64;
/** Colours that a picture offers. */
const FROM_PICTURE = 10;

/** The colours of a picture file. */
async function coloursOf(file: File): Promise<PaletteColour[]> {
  const picture = await createImageBitmap(file).catch(() => null);
  if (!picture) throw new Error('it is no picture that can be read.');
  const shrink = Math.min(1, 400 / Math.max(picture.width, picture.height));
  const [width, height] = [picture.width, picture.height].map((side) => Math.max(1, Math.round(side * shrink)));
  const ctx = context2d(new OffscreenCanvas(width, height));
  ctx.drawImage(picture, 0, 0, width, height);
  picture.close();
  const { data } = ctx.getImageData(0, 0, width, height);
  const found = paletteOf({ width, height, data: new Uint8Array(data.buffer) }, FROM_PICTURE);
  return found.map(({ hex, share }) => ({
    hex,
    name: `${cutTo(file.name.replace(/\.\w+$/, ''), 40)}, ${Math.max(1, Math.round(share * 100))} %`,
  }));
}

/** Palettes and kits, in and out. */
export function PaletteTools() {
  const { doc } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [offered, setOffered] = useState<{ of: string; colours: PaletteColour[] } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const name = slugOf(livery.particulars.key ?? 'livery') || 'livery';
  const bring = async (file: File) => {
    setProblem(null);
    try {
      if (file.type.startsWith('image/')) setOffered({ of: file.name, colours: await coloursOf(file) });
      else if (isZip(new Uint8Array(await file.slice(0, 22).arrayBuffer())))
        bringKit(doc, await sendFile<Parcel>('/kits/open', file), file.name.replace(/\.kit$/i, ''));
      else setOffered({ of: file.name, colours: readPalette(await file.text()) });
    } catch (error) {
      setProblem(`${file.name}: ${sentenceOf(error)}`);
    }
  };
  const keepKit = async () => {
    try {
      const left = await doc.saved();
      if (left > 0) throw new Error(`${count(left, 'step')} not saved yet.`);
      const bytes = await takeBytes('/kits', packKit(livery, template));
      saveFile(`${name}.kit`, bytes as Uint8Array<ArrayBuffer>, 'application/zip');
    } catch (error) {
      setProblem(`The kit could not be kept: ${sentenceOf(error)}`);
    }
  };
  const out = (kept: () => void) => () => {
    setMenu(null);
    kept();
  };
  return (
    <>
      <Row align="stretch" gap={6} above={8}>
        <Button
          size="small"
          onClick={() => input.current?.click()}
          title="A palette (hex list, design tokens), a picture, or a team's kit"
        >
          Bring in colours
        </Button>
        <Button size="small" aria-haspopup="true" onClick={(event) => setMenu(event.currentTarget)}>
          Keep as
        </Button>
      </Row>
      <input
        ref={input}
        type="file"
        hidden
        accept=".kit,.json,.txt,.hex,.tokens,.css,.png,.jpg,.jpeg,.webp"
        aria-label="Palette, picture or kit"
        onChange={(event) => {
          if (event.target.files?.[0]) void bring(event.target.files[0]);
          event.target.value = '';
        }}
      />
      {problem && <Notice level="error">{problem}</Notice>}
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        <MenuItem dense onClick={out(() => saveFile(`${name}.txt`, writeHexList(livery.scheme), 'text/plain'))}>
          A list of hex values
        </MenuItem>
        <MenuItem
          dense
          onClick={out(() => saveFile(`${name}.tokens.json`, writeTokens(livery.scheme), 'application/json'))}
        >
          Design tokens (W3C)
        </MenuItem>
        <MenuItem dense onClick={out(() => void keepKit())}>
          A kit: the scheme and the marks
        </MenuItem>
      </Menu>
      {offered && <Offered {...offered} onClose={() => setOffered(null)} />}
    </>
  );
}

/** The colours of a palette, to be ticked. */
function Offered({ of, colours, onClose }: { of: string; colours: PaletteColour[]; onClose(): void }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const has = new Set(livery.scheme.map(({ hex }) => hex));
  const fresh = colours.filter(({ hex }, i) => !has.has(hex) && colours.findIndex((one) => one.hex === hex) === i);
  const [ticked, setTicked] = useState(new Set(fresh.map(({ hex }) => hex)));
  const room = MOST - livery.scheme.length;
  const chosen = fresh.filter(({ hex }) => ticked.has(hex));
  const take = () => {
    const edits = chosen.map((colour, n): SingleEdit => ({
      do: 'add-colour',
      colour: { ...colour, id: newColourId() },
      index: livery.scheme.length + n,
    }));
    doc.commit({ do: 'together', edits }, `Take ${count(edits.length, 'colour')} from ${of}`);
    announce(`${count(edits.length, 'colour')} added to the scheme`);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" slotProps={{ paper: { 'aria-label': `Colours of ${of}` } }}>
      <h2 style={{ margin: 0, padding: '12px 16px 4px', fontSize: 15, fontWeight: 600 }}>Colours of {of}</h2>
      {fresh.length === 0 ? (
        <p style={{ margin: 0, padding: '0 16px', color: INK.quiet }}>The scheme has them all already.</p>
      ) : (
        <ul style={{ margin: 0, padding: '0 8px', listStyle: 'none', overflow: 'auto' }}>
          {fresh.map(({ hex, name }) => (
            <li key={hex}>
              <Row as="label" gap={8}>
                <Checkbox
                  size="small"
                  checked={ticked.has(hex)}
                  onChange={() => {
                    const next = new Set(ticked);
                    if (!next.delete(hex)) next.add(hex);
                    setTicked(next);
                  }}
                />
                <span aria-hidden style={{ width: 34, height: 22, background: hex, border: `1px solid ${INK.edge}` }} />
                <Grow as="span">{name}</Grow>
                <Quiet small mono>
                  {hex}
                </Quiet>
              </Row>
            </li>
          ))}
        </ul>
      )}
      {chosen.length > room && (
        <p style={{ margin: 0, padding: '0 16px', color: INK.amber }}>
          A scheme holds {MOST} colours: there is room for {room} more.
        </p>
      )}
      <Row align="stretch" gap={8} pad="10px 16px 14px" spread="flex-end">
        <Button onClick={onClose}>Leave them</Button>
        {fresh.length > 0 && (
          <Button
            variant="contained"
            color="primary"
            disabled={chosen.length === 0 || chosen.length > room}
            onClick={take}
          >
            Add {count(chosen.length, 'colour')}
          </Button>
        )}
      </Row>
    </Dialog>
  );
}
