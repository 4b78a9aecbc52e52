// Pictures for a made-up seaside, drawn by code: sky, sea, a pool wall, lanes, a sun, now and then a swimmer. The seed
// decides everything, so the same name is always the same picture.
import sharp from 'sharp';
import { chanceFrom } from './chance.ts';

const SKIES = [
  ['#f6d9b0', '#f3b391', '#7d9fb5'],
  ['#cfe6ee', '#8fc2d4', '#3f7f9c'],
  ['#f2e3c6', '#d9b98a', '#8ca7a4'],
  ['#d8dfe8', '#a7b6c7', '#5d7388'],
  ['#fbe6d4', '#e9a8a0', '#6d6f9c'],
  ['#e4f1e6', '#a8d1bd', '#4b8f86'],
] as const;
const BREADS = [
  ['#f5e7d2', '#d6a667', '#9a6a34'],
  ['#f1dfc9', '#c98f58', '#7d4f2a'],
] as const;

export function drawScene(seed: string, width = 640, height = 360): string {
  const chance = chanceFrom(seed);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)]!;
  if (seed.startsWith('bread')) return drawBread(chance, pick(BREADS), width, height);
  const [high, low, sea] = pick(SKIES);
  const horizon = height * (0.34 + chance() * 0.2);
  const sun = { x: width * (0.15 + chance() * 0.7), y: horizon - 20 - chance() * 80, r: 22 + chance() * 24 };
  const waves = Array.from({ length: 7 }, (_, index) => {
    const y = horizon + ((height - horizon) * (index + 0.5)) / 8;
    const lift = 3 + chance() * 5;
    const step = 60 + chance() * 60;
    let path = `M-20 ${y}`;
    for (let x = -20; x < width + 80; x += step) path += ` q${step / 4} ${-lift} ${step / 2} 0 t${step / 2} 0`;
    return `<path d="${path}" fill="none" stroke="#fff" stroke-opacity="${0.12 + index * 0.03}" stroke-width="2"/>`;
  });
  const wallTop = height * (0.72 + chance() * 0.1);
  const wall =
    chance() < 0.7
      ? `<path d="M0 ${wallTop + 26} L${width} ${wallTop} V${height} H0Z" fill="#e9e2d2"/><path d="M0 ${wallTop + 26} L${width} ${wallTop}" stroke="#fff" stroke-width="5"/>`
      : '';
  const lanes =
    wall === ''
      ? ''
      : Array.from({ length: 4 }, (_, index) => {
          const y = horizon + (wallTop - horizon) * (0.25 + index * 0.2);
          return `<path d="M0 ${y + 8} L${width} ${y}" stroke="${pick(['#d95f43', '#f0ead8', '#2d5f7c'])}" stroke-width="3" stroke-dasharray="14 7" stroke-opacity=".8"/>`;
        }).join('');
  const swimmers = Array.from({ length: Math.floor(chance() * 4) }, () => {
    const x = width * (0.1 + chance() * 0.8);
    const y = horizon + (wallTop - horizon) * (0.2 + chance() * 0.6);
    return `<g><ellipse cx="${x}" cy="${y + 9}" rx="30" ry="5" fill="#fff" opacity=".45"/><circle cx="${x}" cy="${y}" r="8" fill="#7a4f3a"/><path d="M${x - 8} ${y - 2} a8 8 0 0 1 16 0z" fill="${pick(['#d95f43', '#f2c14e', '#22577a'])}"/></g>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">
    <defs><linearGradient id="s" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${high}"/><stop offset="1" stop-color="${low}"/></linearGradient>
    <linearGradient id="w" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${sea}"/><stop offset="1" stop-color="#1e4c5e"/></linearGradient></defs>
    <rect width="${width}" height="${height}" fill="url(#s)"/><circle cx="${sun.x}" cy="${sun.y}" r="${sun.r}" fill="#fff6df" opacity=".9"/>
    <rect y="${horizon}" width="${width}" height="${height - horizon}" fill="url(#w)"/>${waves.join('')}${lanes}${wall}${swimmers.join('')}</svg>`;
}

function drawBread(
  chance: () => number,
  [light, crust, dark]: readonly [string, string, string],
  width: number,
  height: number,
): string {
  const loaves = Array.from({ length: 2 + Math.floor(chance() * 3) }, (_, index) => {
    const x = width * (0.2 + index * 0.2 + chance() * 0.08);
    const y = height * (0.5 + chance() * 0.18);
    const cuts = Array.from(
      { length: 3 },
      (_, cut) =>
        `<path d="M${x - 30 + cut * 26} ${y - 26} q14 18 4 40" stroke="${light}" stroke-width="7" fill="none" stroke-linecap="round"/>`,
    );
    return `<ellipse cx="${x}" cy="${y + 44}" rx="86" ry="14" fill="#000" opacity=".12"/><ellipse cx="${x}" cy="${y}" rx="84" ry="50" fill="${crust}" stroke="${dark}" stroke-width="4"/>${cuts.join('')}`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><rect width="${width}" height="${height}" fill="#efe9dd"/><rect y="${height * 0.62}" width="${width}" height="${height * 0.38}" fill="#c9b79c"/>${loaves.join('')}</svg>`;
}

const drawn = new Map<string, Promise<Buffer>>();

/** The picture as JPEG. The last few hundred are kept. */
export function picture(seed: string, width = 640, height = 360): Promise<Buffer> {
  const key = `${seed} ${width} ${height}`;
  let made = drawn.get(key);
  if (!made) {
    made = sharp(Buffer.from(drawScene(seed, width, height)))
      .jpeg({ quality: 84 })
      .toBuffer();
    drawn.set(key, made);
    if (drawn.size > 300) drawn.delete(drawn.keys().next().value!);
  }
  return made;
}
