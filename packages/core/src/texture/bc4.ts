/**
 * Single-channel blocks: the alpha of BC3, BC4 itself and each half of BC5
 * (Khronos Data Format Specification 1.3, sections 18.3 and 19; Direct3D 11 functional specification, 19.5.9).
 */
const palette = new Uint8Array(8);

function fillPalette(a: number, b: number): void {
  palette[0] = a;
  palette[1] = b;
  if (a > b) {
    for (let k = 1; k < 7; k++) palette[k + 1] = Math.floor(((7 - k) * a + k * b + 3) / 7);
  } else {
    for (let k = 1; k < 5; k++) palette[k + 1] = Math.floor(((5 - k) * a + k * b + 2) / 5);
    palette[6] = 0;
    palette[7] = 255;
  }
}

const trialIndex = new Uint8Array(16);
const bestIndex = new Uint8Array(16);

/** Nearest palette entries for one channel; a value of 255 must be met exactly. @returns the squared error */
function assign(block: Uint8Array, channel: number): number {
  let error = 0;
  for (let i = 0; i < 16; i++) {
    const value = block[i * 4 + channel];
    let least = 1e12;
    for (let k = 0; k < 8; k++) {
      const d = value - palette[k];
      const cost = d * d + (d !== 0 && value === 255 ? 1e6 : 0);
      if (cost < least) {
        least = cost;
        trialIndex[i] = k;
      }
    }
    error += least;
  }
  return error;
}

/** Encodes one channel of 16 texels into 8 bytes at `out[at]`, trying both kinds of palette and ends drawn in a little. */
export function encodeBc4Block(block: Uint8Array, channel: number, out: Uint8Array, at: number): void {
  let [low, high, innerLow, innerHigh] = [255, 0, 255, 0];
  for (let i = channel; i < 64; i += 4) {
    const v = block[i];
    if (v < low) low = v;
    if (v > high) high = v;
    if (v !== 0 && v !== 255) {
      if (v < innerLow) innerLow = v;
      if (v > innerHigh) innerHigh = v;
    }
  }
  let best = Infinity;
  let [bestA, bestB] = [high, low];
  const attempt = (a: number, b: number) => {
    fillPalette(a, b);
    const error = assign(block, channel);
    if (error >= best) return;
    best = error;
    bestA = a;
    bestB = b;
    bestIndex.set(trialIndex);
  };
  attempt(high, low);
  if (high > low && best > 0) {
    const reach = Math.min(8, (high - low) >> 3);
    for (let draw = 1; draw <= reach && best > 0; draw++) {
      attempt(high, low + draw);
      if (high < 255) attempt(high - draw, low);
      if (high < 255) attempt(high - draw, low + draw);
    }
    if ((low === 0 || high === 255) && innerLow <= innerHigh) attempt(innerLow, innerHigh);
  }
  out[at] = bestA;
  out[at + 1] = bestB;
  for (let half = 0; half < 2; half++) {
    let bits = 0;
    for (let i = 0; i < 8; i++) bits |= bestIndex[half * 8 + i] << (i * 3);
    for (let k = 0; k < 3; k++) out[at + 2 + half * 3 + k] = bits >> (k * 8);
  }
}

/** Decodes 8 bytes into one channel of 16 RGBA8 texels. */
export function decodeBc4Block(source: Uint8Array, at: number, out: Uint8Array, channel: number): void {
  fillPalette(source[at], source[at + 1]);
  for (let half = 0; half < 2; half++) {
    const o = at + 2 + half * 3;
    const bits = source[o] | (source[o + 1] << 8) | (source[o + 2] << 16);
    for (let i = 0; i < 8; i++) out[(half * 8 + i) * 4 + channel] = palette[(bits >> (i * 3)) & 7];
  }
}
