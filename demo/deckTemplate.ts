/** The layered template that Brackwater Run's makers give out for the Turnstone's deck: art in groups, guides in a group of their own. */
import { writePsdUint8Array, type Layer as PsdLayer } from 'ag-psd';
import '../packages/core/src/layered/withoutCanvas.ts';
import { compositeLayered } from '../packages/core/src/layered/composite.ts';
import { readPsd } from '../packages/core/src/layered/psd.ts';
import { drawSvg } from '../packages/core/src/files/svg.ts';
import type { Template } from '../packages/core/src/livery/template.ts';
import { uvLines } from '../packages/core/src/surface/guides.ts';
import { islandsOf } from '../packages/core/src/surface/islands.ts';

const SIDE = 1024;

/** @param template the Turnstone; its deck's wire is drawn as a guide */
export function deckTemplate(template: Template): Uint8Array {
  const drawing = (inside: string) => {
    const { width, height, data } = drawSvg(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}" viewBox="0 0 ${SIDE} ${SIDE}">${inside}</svg>`,
      SIDE,
    );
    return { width, height, data: new Uint8ClampedArray(data.buffer as ArrayBuffer, data.byteOffset, data.length) };
  };
  const { wire } = uvLines(template, 'deck');
  let lines = '';
  for (let i = 0; i < wire.length; i += 4) lines += `M${wire[i]} ${wire[i + 1]}L${wire[i + 2]} ${wire[i + 3]}`;
  const boxes = islandsOf(template)
    .filter((island) => island.sheet === 'deck')
    .map(
      ({ box }) =>
        `<rect x="${box.left + 6}" y="${box.top + 6}" width="${box.right - box.left - 12}" height="${box.bottom - box.top - 12}"/>`,
    );
  const layer = (name: string, inside: string, more: Partial<PsdLayer> = {}): PsdLayer => ({
    name,
    left: 0,
    top: 0,
    imageData: drawing(inside) as unknown as ImageData,
    ...more,
  });
  const all = `<rect width="${SIDE}" height="${SIDE}"`;
  const base = `${all} fill="#d9d2c0"/>`;
  const panels = `<g fill="none" stroke="#8d8672" stroke-width="3"><path d="M60 90H960M60 250H960M60 410H960"/></g>`;
  const children: PsdLayer[] = [
    {
      name: 'Paint here',
      opened: true,
      children: [
        layer('Deck paint', base),
        layer('Panel lines', panels, { blendMode: 'multiply', opacity: 0.7 }),
        layer(
          'Shading',
          `${all} fill="#fff"/><rect y="396" width="${SIDE}" height="14" fill="#d8d8d8"/><rect y="600" width="${SIDE}" height="14" fill="#b9b9b9"/>`,
          { blendMode: 'multiply' },
        ),
      ],
    },
    {
      name: 'GUIDES - hide before saving',
      opened: false,
      children: [
        layer('UV wire', `<path d="${lines}" fill="none" stroke="#00ff66" stroke-width="1"/>`),
        layer('Safe frame', `<g fill="#ff3366" fill-opacity=".6">${boxes.join('')}</g>`, { hidden: true }),
        layer('Notes', `<rect x="620" y="940" width="380" height="60" fill="#ffee88"/>`, { hidden: true }),
      ],
    },
  ];
  const write = (imageData?: ImageData) =>
    writePsdUint8Array(
      { width: SIDE, height: SIDE, children, ...(imageData && { imageData }) },
      { generateThumbnail: false },
    );
  // The file's own merged picture is what its layers make.
  const { width, height, data } = compositeLayered(readPsd(write()));
  const merged = {
    width,
    height,
    data: new Uint8ClampedArray(data.buffer as ArrayBuffer, data.byteOffset, data.length),
  };
  return write(merged as unknown as ImageData);
}
