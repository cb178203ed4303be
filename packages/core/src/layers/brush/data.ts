import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { MOST } from '../../livery/limits.ts';
import { Stroke } from '../../livery/paint.ts';
import { NO_PLACE, type LayerData } from '../data.ts';

/** What was painted by hand, stroke by stroke. */
export const BrushLayer = z.strictObject({
  kind: z.literal('brush'),
  ...layerBase,
  strokes: z.array(Stroke).max(MOST.strokes),
});

export const brush: LayerData<z.infer<typeof BrushLayer>> = {
  ...NO_PLACE,
  name: 'Brushwork',
  ofSheet: true,
  paints: ({ strokes }) => strokes.flatMap(({ paint }) => paint ?? []),
  colours: [],
  makers: [
    {
      key: 'brushwork',
      phase: 'Retouch',
      name: 'Brushwork',
      what: 'painted, rubbed out and cloned by hand',
      make: () => ({ strokes: [] }),
    },
  ],
};
