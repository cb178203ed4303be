/** How this window looks at the model: what of it is shown, and how. Nothing of it is saved with the livery. */
import { create } from 'zustand';
import type { MeshData, Template } from '@wet-lacquer/core/livery/template.ts';
import { VIEWS, type View } from '@wet-lacquer/core/projectors/place.ts';

/** Which side of the model is cut away: what lies farther that way than the cut. */
export const SECTIONS: Readonly<Record<View, string>> = {
  bow: 'the bow',
  stern: 'the stern',
  starboard: 'starboard',
  port: 'port',
  top: 'the top',
  bottom: 'the bottom',
};

interface ModelView {
  /** Without perspective. */
  parallel: boolean;
  /** The model is cut open; `at` is how much of it is left, 0..1. */
  section: { side: View; at: number } | null;
  /** Parts that are left away, by their keys. */
  hidden: ReadonlySet<string>;
  /** Brushes go round what is left away. */
  keepsOff: boolean;
  /** A part that was asked to be brought near, anew with each asking. */
  near: { part: string } | null;
}

const WHOLE: ModelView = { parallel: false, section: null, hidden: new Set<string>(), keepsOff: true, near: null };
export const useModelView = create<ModelView>(() => WHOLE);

/** Shows all of it again. */
export const showWhole = (): void => useModelView.setState({ section: null, hidden: WHOLE.hidden, near: null });

/** Turns to a part and goes near it. */
export const bringNear = (part: string): void => useModelView.setState({ near: { part } });

export const leaveAway = (part: string, away: boolean): void =>
  useModelView.setState(({ hidden }) => {
    const next = new Set(hidden);
    if (away) next.add(part);
    else next.delete(part);
    return { hidden: next };
  });

/** The plane of a section: out of what is cut away, and how far along that it lies, metres. */
export function planeOfSection(
  { positions }: MeshData,
  { side, at }: NonNullable<ModelView['section']>,
): { normal: readonly [number, number, number]; offset: number } {
  const normal = VIEWS[side];
  let [least, most] = [Infinity, -Infinity];
  for (let i = 0; i < positions.length; i += 3) {
    const far = positions[i] * normal[0] + positions[i + 1] * normal[1] + positions[i + 2] * normal[2];
    least = Math.min(least, far);
    most = Math.max(most, far);
  }
  return { normal, offset: least + (most - least) * at };
}

/** What brushes keep off: parts that are left away, as long as that is wanted. */
export const keptOff = ({ parts }: Pick<Template, 'parts'>): string[] => {
  const { hidden, keepsOff } = useModelView.getState();
  return keepsOff ? parts.flatMap(({ key }) => (hidden.has(key) ? [key] : [])) : [];
};
