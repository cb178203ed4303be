import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Plate } from '@wet-lacquer/core/livery/plate.ts';
import { useEasel } from '../context.ts';
import { useSession } from '../session.ts';

const NONE: Plate[] = [];

/** The plates as they are shown, with what is being dragged. */
export const useShownPlates = (): readonly Plate[] =>
  useEasel().doc.use(({ preview, livery }) => ((preview ?? livery) as Livery).plates ?? NONE);

/** The chosen one as it is shown; null: none is. */
export function useChosenPlate(): Plate | null {
  const chosen = useSession((s) => s.plate);
  return useShownPlates().find(({ id }) => id === chosen) ?? null;
}
