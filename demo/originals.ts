/** Original art of the demo's subjects, as the games would ship it: drawn as SVG by these few lines, and stored as pixels. */
export interface Drawing {
  width: number;
  height: number;
  svg: string;
}

const svg = (width: number, height: number, inside: string) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${inside}</svg>`;

export const ground = (width: number, height: number, hex: string) =>
  svg(width, height, `<rect width="${width}" height="${height}" fill="${hex}"/>`);

/** Seven strands with clear gaps between them, each a fan of fine hairs. */
export function hairArt(): Drawing {
  const strands = Array.from({ length: 7 }, (_, i) => {
    const x = 10 + i * 72;
    return Array.from({ length: 12 }, (_, k) => {
      const [top, foot] = [x + 4 + k * 4.7, x + 2 + k * 5];
      const tone = ['#4a2f1d', '#5c3a22', '#3b2416', '#6d4628'][(i + k) % 4];
      return `<path d="M${top} 20C${top + 2} 180 ${foot - 3} 320 ${foot} ${440 + ((k * 7) % 40)}" stroke="${tone}" stroke-width="4.6" fill="none" stroke-linecap="round"/>`;
    }).join('');
  });
  return { width: 512, height: 512, svg: svg(512, 512, strands.join('')) };
}

/** Sixteen sails, each in its cloth and with its house's emblem. */
export function sailArt(): Drawing {
  const cloth = ['#c9b48a', '#a8452f', '#2f5366', '#d9d3c3', '#5b6b3a', '#7b3048', '#b98a2e', '#3d3a36'];
  const mark = ['#7a2f22', '#f0e4c4', '#e2b23c', '#254a5a', '#efe8d8', '#e9cda0', '#2d2a26', '#c7512f'];
  const cells = Array.from({ length: 16 }, (_, i) => {
    const [x, y] = [(i % 4) * 256, Math.floor(i / 4) * 256];
    const seams = [1, 2, 3].map(
      (k) => `<path d="M${x + k * 64} ${y}V${y + 256}" stroke="#000" stroke-opacity=".12" stroke-width="2"/>`,
    );
    const sides = 3 + (i % 6);
    const points = Array.from({ length: sides * 2 }, (_, k) => {
      const r = k % 2 === 0 ? 84 : 36 + (i % 3) * 12;
      const turn = (Math.PI * k) / sides - Math.PI / 2;
      return `${(x + 128 + r * Math.cos(turn)).toFixed(1)},${(y + 128 + r * Math.sin(turn)).toFixed(1)}`;
    });
    return `<rect x="${x}" y="${y}" width="256" height="256" fill="${cloth[i % 8]}"/>${seams.join('')}<polygon points="${points.join(' ')}" fill="${mark[(i + (i >> 3)) % 8]}"/>`;
  });
  return { width: 1024, height: 1024, svg: svg(1024, 1024, cells.join('')) };
}
