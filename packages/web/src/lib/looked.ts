/** What a painter has looked at in this browser: proofs and games, by their livery or game. */
const KEY = 'wet-lacquer/looked';
const MOST = 200;

type Thing = 'proof' | 'bay';

function all(): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(kept) ? kept.filter((one) => typeof one === 'string') : [];
  } catch {
    return [];
  }
}

export const lookedAt = (thing: Thing, of: string): boolean => all().includes(`${thing} ${of}`);

export function noteLooked(thing: Thing, of: string): void {
  const name = `${thing} ${of}`;
  const rest = all().filter((one) => one !== name);
  try {
    localStorage.setItem(KEY, JSON.stringify([...rest, name].slice(-MOST)));
  } catch {
    // Without room the line leads there once more.
  }
}
