/**
 * JPEG files as they are stored (Recommendation ITU-T T.81): facts, and paint put into one that is there. Blocks that nobody painted keep
 * their very coefficients, so that nothing is compressed a second time. Pictures are otherwise read and written by a library.
 */
import { joined } from '../bytes.ts';
import { InputError } from '../errors.ts';
import type { Image8 } from '../raster/image.ts';

/** Zigzag order (figure 5 of the recommendation): the place in a block of each coefficient as stored. */
const ZIGZAG = Uint8Array.of(
  0, 1, 8, 16, 9, 2, 3, 10, 17, 24, 32, 25, 18, 11, 4, 5, 12, 19, 26, 33, 40, 48, 41, 34, 27, 20, 13, 6, 7, 14, 21, 28,
  35, 42, 49, 56, 57, 50, 43, 36, 29, 22, 15, 23, 30, 37, 44, 51, 58, 59, 52, 45, 38, 31, 39, 46, 53, 60, 61, 54, 47,
  55, 62, 63,
); // prettier-ignore

/** Luminance quantisation of table K.1, in zigzag order. */
const K1 = [
  16, 11, 12, 14, 12, 10, 16, 14, 13, 14, 18, 17, 16, 19, 24, 40, 26, 24, 22, 22, 24, 49, 35, 37, 29, 40, 58, 51, 61,
  60, 57, 51, 56, 55, 64, 72, 92, 78, 64, 68, 87, 69, 55, 56, 80, 109, 81, 87, 95, 98, 103, 104, 103, 62, 77, 113, 121,
  112, 100, 120, 92, 101, 103, 99,
];

interface Component {
  id: number;
  h: number;
  v: number;
  quantiser: number;
  dc: number;
  ac: number;
  /** Blocks across and down that the scan holds, padding to whole MCUs included. */
  across: number;
  down: number;
  coefficients: Int16Array;
}

export interface JpegFacts {
  width: number;
  height: number;
  /** Grey, colour as brightness and two differences, colour as it is, or four inks. */
  colours: 'grey' | 'ycc' | 'rgb' | 'four';
  progressive: boolean;
  /** The quality, 1 to 100, whose tables (annex K, scaled as the Independent JPEG Group's library does) are nearest to the file's. */
  quality: number;
  /** How often colour is sampled, as common programs say it; null: in no common way. */
  sampling: '4:4:4' | '4:2:2' | '4:2:0' | '4:4:0' | null;
}

interface Layout extends JpegFacts {
  components: Component[];
  /** Of each table its 64 divisors, in zigzag order. */
  quantisers: (Uint16Array | undefined)[];
  tables: { dc: (Codes | undefined)[]; ac: (Codes | undefined)[] };
  restart: number;
  hMax: number;
  vMax: number;
  /** Where the first scan's header, its coded data and what follows that begin. */
  scanAt: number;
  dataAt: number;
  /** Whether its frame is one that can be taken apart: baseline or extended sequential Huffman of 8 bits, one scan. */
  plain: boolean;
}

/** Huffman codes of one table: lengths and values as stored (annex C), and both ways of looking one up. */
interface Codes {
  counts: Uint8Array;
  values: Uint8Array;
  code: Int32Array;
  length: Uint8Array;
  /** By 16 bits read ahead: value * 32 + length; 0: no such code. */
  ahead: Uint16Array;
}

function codesOf(counts: Uint8Array, values: Uint8Array): Codes {
  const code = new Int32Array(256).fill(-1);
  const length = new Uint8Array(256);
  const ahead = new Uint16Array(65536);
  let next = 0;
  let k = 0;
  for (let bits = 1; bits <= 16; bits++) {
    for (let n = 0; n < counts[bits - 1]; n++, k++) {
      if (k >= values.length || next >= 1 << bits) throw new InputError('This JPEG file has a table that is damaged.');
      code[values[k]] = next;
      length[values[k]] = bits;
      ahead.fill(values[k] * 32 + bits, next << (16 - bits), (next + 1) << (16 - bits));
      next++;
    }
    next <<= 1;
  }
  return { counts, values, code, length, ahead };
}

/** What a JPEG says of itself. @throws InputError in one sentence */
export function readJpegFacts(bytes: Uint8Array): JpegFacts {
  const { width, height, colours, progressive, quality, sampling } = layoutOf(bytes);
  return { width, height, colours, progressive, quality, sampling };
}

/** Whether paint can be put into the file block by block. */
export function canPutOverJpeg(bytes: Uint8Array): boolean {
  const { plain, colours } = layoutOf(bytes);
  return plain && colours !== 'four';
}

function layoutOf(bytes: Uint8Array): Layout {
  const cut = () => new InputError('This JPEG file is cut off.');
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) throw new InputError('This is not a JPEG file.');
  const quantisers: Layout['quantisers'] = [];
  const tables: Layout['tables'] = { dc: [], ac: [] };
  let frame: Pick<Layout, 'width' | 'height' | 'components' | 'hMax' | 'vMax' | 'progressive'> | null = null;
  let plain = true;
  let restart = 0;
  let adobe: number | null = null;
  for (let at = 2; ;) {
    while (bytes[at] === 0xff && bytes[at + 1] === 0xff) at++;
    if (at + 4 > bytes.length || bytes[at] !== 0xff) throw cut();
    const marker = bytes[at + 1];
    const length = (bytes[at + 2] << 8) | bytes[at + 3];
    const body = bytes.subarray(at + 4, at + 2 + length);
    if (length < 2 || at + 2 + length > bytes.length) throw cut();
    if (marker === 0xdb) {
      for (let i = 0; i < body.length;) {
        const [wide, id] = [body[i] >> 4, body[i] & 15];
        const table = new Uint16Array(64);
        i++;
        for (let k = 0; k < 64; k++, i += wide ? 2 : 1) table[k] = wide ? (body[i] << 8) | body[i + 1] : body[i];
        if (id > 3 || i > body.length) throw cut();
        quantisers[id] = table;
      }
    } else if (marker === 0xc4) {
      for (let i = 0; i + 17 <= body.length;) {
        const [kind, id] = [body[i] >> 4, body[i] & 15];
        const counts = body.slice(i + 1, i + 17);
        const total = counts.reduce((n, c) => n + c, 0);
        if (total > 256 || i + 17 + total > body.length || id > 3) throw cut();
        (kind ? tables.ac : tables.dc)[id] = codesOf(counts, body.slice(i + 17, i + 17 + total));
        i += 17 + total;
      }
    } else if (marker === 0xdd) restart = (body[0] << 8) | body[1];
    else if (marker === 0xee && String.fromCharCode(...body.subarray(0, 5)) === 'Adobe') adobe = body[11];
    else if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc8 && marker !== 0xcc) {
      const [height, width, count] = [(body[1] << 8) | body[2], (body[3] << 8) | body[4], body[5]];
      if (width < 1 || height < 1 || width > 16384 || height > 16384)
        throw new InputError(`This JPEG file declares ${width} x ${height} texels; 1 to 16384 a side can be read.`);
      if (count < 1 || count > 4 || body.length < 6 + count * 3) throw cut();
      plain = (marker === 0xc0 || marker === 0xc1) && body[0] === 8;
      const components = Array.from({ length: count }, (_, c): Component => {
        const [id, sampling, quantiser] = body.subarray(6 + c * 3, 9 + c * 3);
        const [h, v] = [sampling >> 4, sampling & 15];
        if (h < 1 || h > 4 || v < 1 || v > 4) throw cut();
        return { id, h, v, quantiser, dc: 0, ac: 0, across: 0, down: 0, coefficients: new Int16Array(0) };
      });
      const [hMax, vMax] = [Math.max(...components.map((c) => c.h)), Math.max(...components.map((c) => c.v))];
      frame = { width, height, components, hMax, vMax, progressive: marker === 0xc2 };
    } else if (marker === 0xda) {
      if (!frame) throw cut();
      const scanned = body[0];
      // Two components have no common meaning, and samples of two thirds of a texel no decoder agrees on.
      const uneven = frame.components.some(({ h, v }) => frame!.hMax % h !== 0 || frame!.vMax % v !== 0);
      if (scanned !== frame.components.length || scanned === 2 || uneven) plain = false;
      for (let c = 0; c < scanned; c++) {
        const own = frame.components.find(({ id }) => id === body[1 + c * 2]);
        if (!own) throw cut();
        own.dc = body[2 + c * 2] >> 4;
        own.ac = body[2 + c * 2] & 15;
      }
      const { components, hMax, vMax } = frame;
      const colours =
        components.length === 1
          ? ('grey' as const)
          : components.length === 4
            ? ('four' as const)
            : adobe === 0 || components.map(({ id }) => String.fromCharCode(id)).join('') === 'RGB'
              ? ('rgb' as const)
              : ('ycc' as const);
      const luma = quantisers[components[0].quantiser];
      return {
        ...frame,
        colours,
        quality: luma ? qualityOf(luma) : 0,
        sampling: samplingOf(components, hMax, vMax),
        quantisers,
        tables,
        restart,
        scanAt: at,
        dataAt: at + 2 + length,
        plain,
      };
    }
    at += 2 + length;
  }
}

function samplingOf(components: readonly Component[], hMax: number, vMax: number): JpegFacts['sampling'] {
  if (components.length !== 3) return components.length === 1 ? '4:4:4' : null;
  const [, b, r] = components;
  if (b.h !== r.h || b.v !== r.v || components[0].h !== hMax || components[0].v !== vMax) return null;
  const [across, down] = [hMax / b.h, vMax / b.v];
  if (across === 1) return down === 1 ? '4:4:4' : down === 2 ? '4:4:0' : null;
  return across === 2 ? (down === 1 ? '4:2:2' : down === 2 ? '4:2:0' : null) : null;
}

/** The quality whose scaling of table K.1 is nearest to a table. */
function qualityOf(table: Uint16Array): number {
  let [best, least] = [0, Infinity];
  for (let quality = 1; quality <= 100; quality++) {
    const scale = quality < 50 ? Math.floor(5000 / quality) : 200 - quality * 2;
    let apart = 0;
    for (let k = 0; k < 64; k++) {
      const wanted = Math.max(1, Math.min(255, Math.floor((K1[k] * scale + 50) / 100)));
      apart += Math.abs(wanted - table[k]);
    }
    if (apart < least) [best, least] = [quality, apart];
  }
  return best;
}

/** Reads all coefficients of a plain file. @returns where its coded data ends */
function readCoefficients(bytes: Uint8Array, layout: Layout): number {
  const { components, width, height, hMax, vMax, restart, tables } = layout;
  const [mcusAcross, mcusDown] = mcusOf(layout);
  const single = components.length === 1;
  const inMcu = single ? 1 : components.reduce((n, { h, v }) => n + h * v, 0);
  const mcus = single ? Math.ceil(width / 8) * Math.ceil(height / 8) : mcusAcross * mcusDown;
  // A block takes two codes, so two bits at least: a file of a few bytes cannot ask for room for millions of them.
  if ((bytes.length - layout.dataAt) * 4 < mcus * inMcu) throw new InputError('This JPEG file is cut off.');
  for (const c of components) {
    c.across = single ? Math.ceil(Math.ceil((width * c.h) / hMax) / 8) : mcusAcross * c.h;
    c.down = single ? Math.ceil(Math.ceil((height * c.v) / vMax) / 8) : mcusDown * c.v;
    c.coefficients = new Int16Array(c.across * c.down * 64);
  }
  let at = layout.dataAt;
  let held = 0;
  let count = 0;
  const fill = () => {
    while (count <= 16) {
      let byte = bytes[at];
      if (at >= bytes.length) byte = 0;
      else if (byte === 0xff) {
        if (bytes[at + 1] === 0) at += 2;
        // A marker ends the data: from there on zeros are read, as decoders do.
        else byte = 0;
      } else at++;
      held = (held << 8) | byte;
      count += 8;
    }
  };
  const bits = (n: number) => {
    if (n === 0) return 0;
    fill();
    count -= n;
    return (held >>> count) & ((1 << n) - 1);
  };
  const symbol = (codes: Codes) => {
    fill();
    const found = codes.ahead[(held >>> (count - 16)) & 0xffff];
    if (found === 0) throw new InputError('This JPEG file is damaged: a code in it means nothing.');
    count -= found & 31;
    return found >> 5;
  };
  const extended = (size: number) => {
    const value = bits(size);
    return size > 0 && value < 1 << (size - 1) ? value - (1 << size) + 1 : value;
  };
  const before = new Int32Array(components.length);
  const block = (index: number, place: number) => {
    const { coefficients, dc, ac } = components[index];
    const [dcCodes, acCodes] = [tables.dc[dc], tables.ac[ac]];
    if (!dcCodes || !acCodes) throw new InputError('This JPEG file lacks a table that it uses.');
    before[index] += extended(symbol(dcCodes));
    coefficients[place] = before[index];
    for (let k = 1; k < 64;) {
      const run = symbol(acCodes);
      const size = run & 15;
      if (size === 0) {
        if (run !== 0xf0) break;
        k += 16;
        continue;
      }
      k += run >> 4;
      if (k > 63) throw new InputError('This JPEG file is damaged: a block has more than 64 values.');
      coefficients[place + ZIGZAG[k]] = extended(size);
      k++;
    }
  };
  eachMcu(layout, (mcu, blocks) => {
    if (restart && mcu > 0 && mcu % restart === 0) {
      count = 0;
      held = 0;
      before.fill(0);
      while (at + 1 < bytes.length && !(bytes[at] === 0xff && bytes[at + 1] >= 0xd0 && bytes[at + 1] <= 0xd7)) {
        if (bytes[at] === 0xff && bytes[at + 1] !== 0 && bytes[at + 1] !== 0xff) break;
        at++;
      }
      if (bytes[at] === 0xff && bytes[at + 1] >= 0xd0 && bytes[at + 1] <= 0xd7) at += 2;
    }
    for (const { index, place } of blocks()) block(index, place);
  });
  // What is left of the data: fill bits, until the next marker.
  while (at + 1 < bytes.length && !(bytes[at] === 0xff && bytes[at + 1] !== 0 && bytes[at + 1] !== 0xff)) at++;
  return at;
}

const mcusOf = ({ width, height, hMax, vMax }: Layout) => [
  Math.ceil(width / (8 * hMax)),
  Math.ceil(height / (8 * vMax)),
];

/** Goes through the blocks in the order in which a scan holds them (annex A.2). */
function eachMcu(layout: Layout, visit: (mcu: number, blocks: () => { index: number; place: number }[]) => void): void {
  const { components } = layout;
  if (components.length === 1) {
    const [{ across, down }] = components;
    for (let mcu = 0; mcu < across * down; mcu++) visit(mcu, () => [{ index: 0, place: mcu * 64 }]);
    return;
  }
  const [mcusAcross, mcusDown] = mcusOf(layout);
  for (let mcu = 0; mcu < mcusAcross * mcusDown; mcu++) {
    const [mx, my] = [mcu % mcusAcross, Math.floor(mcu / mcusAcross)];
    visit(mcu, () =>
      components.flatMap(({ h, v, across }, index) =>
        Array.from({ length: h * v }, (_, i) => ({
          index,
          place: ((my * v + Math.floor(i / h)) * across + mx * h + (i % h)) * 64,
        })),
      ),
    );
  }
}

/** Number of bits of a value (tables F.1 and F.2). */
const sizeOf = (value: number) => 32 - Math.clz32(Math.abs(value));

/** Codes the coefficients; null when a table has no code for what is needed. */
function writeScan(layout: Layout, tables: Layout['tables']): Uint8Array | null {
  const { components, restart } = layout;
  let out = new Uint8Array(1 << 16);
  let at = 0;
  let held = 0;
  let count = 0;
  const put = (value: number, second: number | null) => {
    if (at + 2 > out.length) {
      const larger = new Uint8Array(out.length * 2);
      larger.set(out);
      out = larger;
    }
    out[at++] = value;
    if (second !== null) out[at++] = second;
  };
  const byte = (value: number) => put(value, value === 0xff ? 0 : null);
  const bits = (value: number, n: number) => {
    held = (held << n) | (value & ((1 << n) - 1));
    count += n;
    while (count >= 8) {
      count -= 8;
      byte((held >>> count) & 255);
    }
    held &= (1 << count) - 1;
  };
  let lacking = false;
  const symbol = (codes: Codes | undefined, value: number) => {
    if (!codes || codes.code[value] < 0) lacking = true;
    else bits(codes.code[value], codes.length[value]);
  };
  const signed = (value: number, size: number) => bits(value < 0 ? value + (1 << size) - 1 : value, size);
  const before = new Int32Array(components.length);
  eachMcu(layout, (mcu, blocks) => {
    if (restart && mcu > 0 && mcu % restart === 0) {
      if (count > 0) bits(0x7f, 8 - count);
      put(0xff, 0xd0 + ((mcu / restart - 1) & 7));
      before.fill(0);
    }
    for (const { index, place } of blocks()) {
      const { coefficients, dc, ac } = components[index];
      const difference = coefficients[place] - before[index];
      before[index] = coefficients[place];
      const size = sizeOf(difference);
      symbol(tables.dc[dc], size);
      if (size > 0) signed(difference, size);
      let run = 0;
      for (let k = 1; k < 64; k++) {
        const value = coefficients[place + ZIGZAG[k]];
        if (value === 0) {
          run++;
          continue;
        }
        for (; run > 15; run -= 16) symbol(tables.ac[ac], 0xf0);
        const width = sizeOf(value);
        symbol(tables.ac[ac], (run << 4) | width);
        signed(value, width);
        run = 0;
      }
      if (run > 0) symbol(tables.ac[ac], 0);
    }
  });
  if (lacking) return null;
  if (count > 0) bits(0x7f, 8 - count);
  return out.slice(0, at);
}

/** Tables with a code of 8 to 16 bits for every symbol that can come: longer than need be, for files whose own tables were cut to their picture. */
function tablesForAll(): { dc: Codes; ac: Codes } {
  const table = (values: number[], bits: number) => {
    const counts = new Uint8Array(16);
    counts[bits - 1] = values.length;
    return codesOf(counts, Uint8Array.from(values));
  };
  const ac = [0, 0xf0];
  for (let run = 0; run < 16; run++) for (let size = 1; size <= 10; size++) ac.push((run << 4) | size);
  return { dc: table([...Array(12).keys()], 4), ac: table(ac, 8) };
}

/** cos((2x + 1) u pi / 16) scaled for an orthonormal transform (A.3.3), from the Taylor series: the same on every engine. */
const COSINES = (() => {
  const cosine = (a: number) => {
    let [sum, term] = [1, 1];
    for (let k = 2; k < 40; k += 2) {
      term *= -(a * a) / (k * (k - 1));
      sum += term;
    }
    return sum;
  };
  const out = new Float64Array(64);
  for (let u = 0; u < 8; u++)
    for (let x = 0; x < 8; x++) {
      const turn = ((2 * x + 1) * u) % 32;
      out[u * 8 + x] =
        cosine(((turn > 16 ? turn - 32 : turn) * 3.141592653589793) / 16) * (u === 0 ? Math.SQRT1_2 : 1) * 0.5;
    }
  return out;
})();

/** Coefficients of 8 x 8 samples that are centred on 0, by rows and columns. */
function transform(samples: Float64Array, out: Float64Array): void {
  const rows = new Float64Array(64);
  for (let y = 0; y < 8; y++)
    for (let u = 0; u < 8; u++) {
      let sum = 0;
      for (let x = 0; x < 8; x++) sum += samples[y * 8 + x] * COSINES[u * 8 + x];
      rows[y * 8 + u] = sum;
    }
  for (let v = 0; v < 8; v++)
    for (let u = 0; u < 8; u++) {
      let sum = 0;
      for (let y = 0; y < 8; y++) sum += rows[y * 8 + u] * COSINES[v * 8 + y];
      out[v * 8 + u] = sum;
    }
}

/** Y, Cb, Cr of a texel (ITU-T T.871, 7), or the channel itself. */
function sampleOf(colours: JpegFacts['colours'], index: number, data: Uint8Array, i: number): number {
  const [r, g, b] = [data[i], data[i + 1], data[i + 2]];
  if (colours === 'rgb') return data[i + index];
  if (index === 0) return 0.299 * r + 0.587 * g + 0.114 * b;
  return index === 1 ? -0.1687 * r - 0.3313 * g + 0.5 * b + 128 : 0.5 * r - 0.4187 * g - 0.0813 * b + 128;
}

/**
 * The file with other texels. Only blocks that hold a changed texel get new coefficients, by the file's own tables; all segments stay.
 * @param painted straight RGBA8, row 0 at the top; alpha is not looked at. In blocks with a change all of it counts: the rest of it as a decoder
 *   gives it
 * @throws InputError when the file is progressive, arithmetic or of four inks; see canPutOverJpeg
 */
export function putOverJpeg(original: Uint8Array, painted: Image8, changed: Uint8Array): Uint8Array {
  const layout = layoutOf(original);
  if (!layout.plain || layout.colours === 'four')
    throw new InputError('This JPEG file is stored in a way that cannot be painted over block by block.');
  const end = readCoefficients(original, layout);
  const { width, height, components, hMax, vMax, colours, quantisers } = layout;
  const samples = new Float64Array(64);
  const values = new Float64Array(64);
  components.forEach((component, index) => {
    const { h, v, across, down, coefficients, quantiser } = component;
    const divisors = quantisers[quantiser];
    if (!divisors) throw new InputError('This JPEG file lacks a table that it uses.');
    if (divisors.includes(0)) throw new InputError('This JPEG file has a table that is damaged.');
    const [sx, sy] = [hMax / h, vMax / v];
    for (let by = 0; by < down; by++)
      for (let bx = 0; bx < across; bx++) {
        const [left, top] = [Math.floor(bx * 8 * sx), Math.floor(by * 8 * sy)];
        const [right, bottom] = [
          Math.min(width, Math.ceil((bx + 1) * 8 * sx)),
          Math.min(height, Math.ceil((by + 1) * 8 * sy)),
        ];
        let hit = false;
        for (let y = top; y < bottom && !hit; y++)
          for (let x = left; x < right && !hit; x++) hit = changed[y * width + x] === 1;
        if (!hit) continue;
        for (let y = 0; y < 8; y++)
          for (let x = 0; x < 8; x++) {
            let [sum, n] = [0, 0];
            for (
              let ty = Math.floor(top + y * sy);
              ty < Math.max(Math.floor(top + y * sy) + 1, top + (y + 1) * sy);
              ty++
            )
              for (
                let tx = Math.floor(left + x * sx);
                tx < Math.max(Math.floor(left + x * sx) + 1, left + (x + 1) * sx);
                tx++
              ) {
                // Past the picture its last texels repeat.
                const at = (Math.min(height - 1, ty) * width + Math.min(width - 1, tx)) * 4;
                sum += sampleOf(colours, index, painted.data, at);
                n++;
              }
            samples[y * 8 + x] = sum / n - 128;
          }
        transform(samples, values);
        const place = (by * across + bx) * 64;
        for (let k = 0; k < 64; k++) {
          const value = values[ZIGZAG[k]] / divisors[k];
          const rounded = Math.sign(value) * Math.floor(Math.abs(value) + 0.5);
          coefficients[place + ZIGZAG[k]] = Math.max(k === 0 ? -2047 : -1023, Math.min(k === 0 ? 2047 : 1023, rounded));
        }
      }
  });
  const scan = writeScan(layout, layout.tables);
  if (scan) return joined([original.subarray(0, layout.dataAt), scan, original.subarray(end)]);
  // The file's own codes were made for its own picture alone.
  const all = tablesForAll();
  const wide = writeScan(layout, { dc: [all.dc, all.dc, all.dc, all.dc], ac: [all.ac, all.ac, all.ac, all.ac] });
  if (!wide) throw new InputError('This JPEG file is damaged: it holds values that no picture of 8 bits has.');
  const segments: Uint8Array[] = [];
  for (const [kind, codes] of [
    [0, all.dc],
    [1, all.ac],
  ] as const)
    for (let id = 0; id < 4; id++) {
      if (!(kind ? layout.tables.ac : layout.tables.dc)[id]) continue;
      const body = Uint8Array.of((kind << 4) | id, ...codes.counts, ...codes.values);
      segments.push(Uint8Array.of(0xff, 0xc4, (body.length + 2) >> 8, body.length + 2), body);
    }
  return joined([
    original.subarray(0, layout.scanAt),
    ...segments,
    original.subarray(layout.scanAt, layout.dataAt),
    wide,
    original.subarray(end),
  ]);
}
