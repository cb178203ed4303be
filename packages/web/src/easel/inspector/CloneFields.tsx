import { mapsOf, type TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { Choice } from '../../parts/Choice.tsx';
import { INK } from '../../theme.ts';
import { NO_WAY, useHand } from '../hand.ts';
import { useSession } from '../session.ts';
import { Tick } from '../../parts/Tick.tsx';

/** Where clone takes from, and what it goes on. */
export function CloneFields({ sheet }: { sheet: TemplateSheet }) {
  const { cloneFrom, cloneMap, aligned, everyMap } = useHand();
  const map = useSession((session) => session.map);
  const maps = mapsOf(sheet);
  const from = cloneFrom;
  const there = from && (from.sheet === sheet.key ? '' : `${from.sheet} `);
  return (
    <>
      <p style={{ margin: 0, color: from ? INK.quiet : INK.amber, fontSize: 12 }}>
        {from
          ? `Takes from ${there}${from.x}, ${from.y}; Alt and a press moves that.`
          : 'Hold Alt and press on what is to be copied, on the sheet or on the model.'}
      </p>
      <Tick
        label="Stays aligned from stroke to stroke"
        checked={aligned}
        onChange={(on) => useHand.setState({ aligned: on, ...NO_WAY })}
      />
      {maps.length > 1 && !everyMap && (
        <Choice
          label="takes from"
          value={maps.some(({ key }) => key === cloneMap) ? cloneMap! : map}
          options={maps.map(({ key, name }) => ({ value: key, label: key === map ? `${name}, as it is` : name }))}
          onChange={(key) => useHand.setState({ cloneMap: key === map ? null : key })}
        />
      )}
      {maps.length > 1 && (
        <Tick
          label="On every map of the sheet at once"
          checked={everyMap}
          onChange={(on) => useHand.setState({ everyMap: on })}
        />
      )}
    </>
  );
}
