/**
 * Roots and powers from + - * / and sqrt alone, which IEEE 754 rounds the same on every engine. Errors stay below 1e-13, far under what
 * 16 bits can show; oklab.test.ts holds them against Math.
 */

const bits = new DataView(new ArrayBuffer(8));

/** Cube root of a value that is not negative. */
export function cbrt(x: number): number {
  if (x <= 0) return 0;
  bits.setFloat64(0, x);
  // A third of the exponent, by the bits; then Halley's iteration, which triples the right digits.
  bits.setUint32(0, ((bits.getUint32(0) / 3) >>> 0) + 715094163);
  bits.setUint32(4, 0);
  let r = bits.getFloat64(0);
  for (let k = 0; k < 3; k++) {
    const cube = r * r * r;
    r = (r * (cube + x + x)) / (cube + cube + x);
  }
  return r;
}

const LN2 = 0.6931471805599453;

function ln(x: number): number {
  let e = 0;
  let m = x;
  while (m > 1.4142135623730951) {
    m /= 2;
    e++;
  }
  while (m < 0.7071067811865476) {
    m *= 2;
    e--;
  }
  // 2 artanh((m - 1) / (m + 1))
  const z = (m - 1) / (m + 1);
  const z2 = z * z;
  let sum = 0;
  for (let k = 21; k >= 1; k -= 2) sum = sum * z2 + 1 / k;
  return e * LN2 + 2 * z * sum;
}

/** e to the power x. */
export function exp(x: number): number {
  const k = Math.round(x / LN2);
  const r = x - k * LN2;
  let sum = 1;
  for (let n = 16; n >= 1; n--) sum = 1 + (sum * r) / n;
  let scale = 1;
  for (let i = 0; i < Math.abs(k); i++) scale = k > 0 ? scale * 2 : scale / 2;
  return sum * scale;
}

/** x to the power y, for x that is not negative. */
export function pow(x: number, y: number): number {
  return x <= 0 ? 0 : exp(y * ln(x));
}
