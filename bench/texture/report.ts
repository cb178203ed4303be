/** The bench's results as a page and a chart. */

export interface Result {
  who: string;
  format: string;
  step: string;
  /** Mean over the pictures, each capped at 60 dB. */
  psnr: number;
  mpix: number;
  /** By picture, dB. */
  each: Record<string, number>;
  /** Texels opaque in the source that do not decode to 255. */
  notOpaque: number;
}

/** PSNR against speed, both of one thread: ours filled, the references hollow. */
export function chart(results: readonly Result[]): string {
  const [width, height, left, bottom] = [760, 420, 60, 50];
  const speeds = results.map((r) => Math.log10(r.mpix));
  const [x0, x1] = [Math.floor(Math.min(...speeds) * 2) / 2, Math.ceil(Math.max(...speeds) * 2) / 2];
  const [y0, y1] = [
    Math.floor(Math.min(...results.map((r) => r.psnr)) - 1),
    Math.ceil(Math.max(...results.map((r) => r.psnr)) + 1),
  ];
  const x = (mpix: number) => left + ((Math.log10(mpix) - x0) / (x1 - x0)) * (width - left - 20);
  const y = (psnr: number) => height - bottom - ((psnr - y0) / (y1 - y0)) * (height - bottom - 20);
  const colours: Record<string, string> = { BC7: '#1f6f66', BC3: '#8a5a2b', BC1: '#3a3a3a' };
  const ticks = [0.1, 0.3, 1, 3, 10, 30, 100].filter((v) => Math.log10(v) >= x0 && Math.log10(v) <= x1);
  const lines = Array.from({ length: Math.floor((y1 - y0) / 2) + 1 }, (_, i) => y0 + i * 2);
  const dots = results.map((r) => {
    const ours = r.who === 'Wet Lacquer';
    const [cx, cy] = [x(r.mpix).toFixed(1), y(r.psnr).toFixed(1)];
    const colour = colours[r.format] ?? '#777777';
    return (
      `<circle cx="${cx}" cy="${cy}" r="5" fill="${ours ? colour : 'white'}" stroke="${colour}" stroke-width="2"/>` +
      `<text x="${Number(cx) + 8}" y="${Number(cy) + (ours ? -6 : 12)}" font-size="11" fill="${colour}">${r.format} ${r.step}</text>`
    );
  });
  const links = Object.keys(colours).flatMap((format) =>
    [true, false].map((ours) => {
      const points = results
        .filter((r) => r.format === format && (r.who === 'Wet Lacquer') === ours && !/squish|Magick/.test(r.who))
        .map((r) => `${x(r.mpix).toFixed(1)},${y(r.psnr).toFixed(1)}`);
      return `<polyline points="${points.join(' ')}" fill="none" stroke="${colours[format]}" ${ours ? '' : 'stroke-dasharray="4 4"'}/>`;
    }),
  );
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" font-family="sans-serif">`,
    `<rect width="${width}" height="${height}" fill="white"/>`,
    ...lines.map(
      (v) =>
        `<path d="M${left} ${y(v).toFixed(1)}H${width - 20}" stroke="#ddd"/><text x="${left - 8}" y="${(y(v) + 4).toFixed(1)}" font-size="11" text-anchor="end">${v}</text>`,
    ),
    ...ticks.map(
      (v) =>
        `<path d="M${x(v).toFixed(1)} 20V${height - bottom}" stroke="#eee"/><text x="${x(v).toFixed(1)}" y="${height - bottom + 16}" font-size="11" text-anchor="middle">${v}</text>`,
    ),
    `<text x="${width / 2}" y="${height - 12}" font-size="12" text-anchor="middle">Mpix/s on one thread, encoding only (logarithmic)</text>`,
    `<text x="16" y="${height / 2}" font-size="12" text-anchor="middle" transform="rotate(-90 16 ${height / 2})">PSNR in dB, mean of the pictures</text>`,
    ...links,
    ...dots,
    `<text x="${left + 8}" y="${height - bottom - 26}" font-size="11">filled, solid: Wet Lacquer</text>`,
    `<text x="${left + 8}" y="${height - bottom - 10}" font-size="11">hollow, dashed: the reference</text>`,
    '</svg>',
    '',
  ].join('\n');
}

/** A table of results, ours beside the reference that the step is held against. */
export function table(pairs: readonly { ours: Result; reference: Result }[]): string {
  const rows = pairs.map(({ ours, reference }) => {
    const worst = Object.keys(ours.each)
      .map((name) => [name, ours.each[name] - reference.each[name]] as const)
      .reduce((a, b) => (b[1] < a[1] ? b : a));
    return [
      ours.format,
      ours.step,
      ours.psnr.toFixed(2),
      ours.mpix.toFixed(2),
      `${reference.who} ${reference.step}`,
      reference.psnr.toFixed(2),
      reference.mpix.toFixed(2),
      `${(ours.psnr - reference.psnr >= 0 ? '+' : '') + (ours.psnr - reference.psnr).toFixed(2)} dB`,
      `${(ours.mpix / reference.mpix).toFixed(2)} x`,
      `${worst[0]} ${worst[1] >= 0 ? '+' : ''}${worst[1].toFixed(2)}`,
      `${ours.notOpaque} / ${reference.notOpaque}`,
    ];
  });
  const head = [
    'format',
    'step',
    'dB',
    'Mpix/s',
    'against',
    'dB',
    'Mpix/s',
    'quality',
    'speed',
    'least good picture',
    'not opaque, ours / theirs',
  ];
  return [head, head.map(() => '---'), ...rows].map((row) => `| ${row.join(' | ')} |`).join('\n');
}
