import { chooseEdits, choicesIn } from '@wet-lacquer/core/livery/choices.ts';
import { groundOf } from '@wet-lacquer/core/finish/derived.ts';
import { finishesOf } from '@wet-lacquer/core/livery/finish.ts';
import { FinishId } from '@wet-lacquer/core/livery/ids.ts';
import { layersOf, type LiverySheet } from '@wet-lacquer/core/livery/livery.ts';
import { sheetNamed } from '@wet-lacquer/core/livery/template.ts';
import { placesOf } from '@wet-lacquer/core/surface/places.ts';
import { Heading, Quiet } from '../../parts/text.tsx';
import { Choice } from '../../parts/Choice.tsx';
import { INK } from '../../theme.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import { useSession } from '../session.ts';
import { count } from '../../lib/words.ts';
import { BoxList } from './BoxList.tsx';
import { NightSection } from './NightFields.tsx';
import { OutlineList } from './OutlineList.tsx';
import { PinnedList } from './PinnedList.tsx';
import { OtherEditor } from './OtherEditor.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { Section } from '../../parts/Section.tsx';

/** The sheet, when no layer is chosen. */
export function SheetPanel() {
  const { doc } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const key = useSession((s) => s.sheet);
  const sheet = sheetNamed(template, key);
  const state = livery.sheets.find((s) => s.key === key) as LiverySheet;
  const set = (values: Partial<Pick<LiverySheet, 'finish' | 'ready' | 'kept'>>, label: string) =>
    doc.commit({ do: 'set-sheet', sheet: key, set: values }, label);
  const places = placesOf(template, key);
  const plates = (livery.plates ?? []).filter((plate) => plate.sheet === key);
  const what = template.boards ? 'cell' : 'part';
  // Cells that nobody named are many, and say nothing.
  const listed = places.filter(({ named }) => named);
  return (
    <>
      <Heading as="h2" size={15}>
        Sheet {sheet.name}
      </Heading>
      <p style={{ margin: '2px 0 0', color: INK.quiet }}>
        {sheet.width} x {sheet.height} texels
        {sheet.plates
          ? `, pictures of ${count(plates.length, 'plate')}`
          : (!template.boards || sheet.cells) && `, ${count(places.length, what)}`}
        . Choose a layer below, or click on the art.
      </p>
      <Section title="Finish">
        <Choice
          label="finished in"
          value={groundOf(livery, key).id as string}
          options={finishesOf(livery).map(({ id, name }) => ({ value: id as string, label: name }))}
          onChange={(id) => {
            const { name } = finishesOf(livery).find((one) => one.id === id)!;
            set({ finish: FinishId.parse(id) }, `Finish ${sheet.name} in ${name}`);
          }}
        />
        <Quiet as="p">Where no layer is finished otherwise.</Quiet>
      </Section>
      <NightSection sheet={key} />
      <Alternatives sheet={key} />
      <Section title="Checklist">
        <Tick
          label="Ready"
          checked={state.ready}
          onChange={(ready) => set({ ready }, ready ? `Call ${sheet.name} ready` : `Work on ${sheet.name} again`)}
        />
        <Tick
          label="Leave it to the game on purpose"
          checked={state.kept}
          onChange={(kept) => set({ kept }, kept ? `Leave ${sheet.name} to the game` : `Deliver ${sheet.name}`)}
        />
      </Section>
      {(sheet.boxes ?? []).length > 0 && (
        <Section title="Parameter boxes">
          <BoxList sheet={sheet} />
        </Section>
      )}
      {(sheet.followers ?? []).length > 0 && (
        <Section title={`Followed by ${count(sheet.followers!.length, 'file')}`}>
          <ul style={{ margin: 0, paddingLeft: 18, color: INK.quiet }}>
            {sheet.followers!.map((follower) => (
              <li key={follower.key}>
                {follower.name}, {follower.width} x {follower.height}
                {follower.mirror !== 'none' && `, mirrored ${follower.mirror}`}
              </li>
            ))}
          </ul>
        </Section>
      )}
      {(template.outlines ?? []).some((outline) => outline.sheet === key) && (
        <Section title="Frames and colliders">
          <OutlineList sheet={key} />
        </Section>
      )}
      <Section title="Pinned pictures">
        <PinnedList sheet={sheet} />
      </Section>
      <Section title="Another editor">
        <OtherEditor sheet={sheet} />
      </Section>
      {listed.length > 0 && (
        <Section title={template.boards ? 'Cells' : 'Parts'}>
          <ul style={{ margin: 0, paddingLeft: 18, color: INK.quiet }}>
            {listed.map(({ keys, name }) => (
              <li key={keys[0]}>{name}</li>
            ))}
          </ul>
        </Section>
      )}
    </>
  );
}

/** What of the template's alternatives is shown on the sheet. */
function Alternatives({ sheet }: { sheet: string }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const map = useSession((s) => s.map);
  const layers = layersOf(livery, sheet, map);
  const choices = choicesIn(layers);
  if (choices.length === 0) return null;
  return (
    <Section title="One of several">
      {choices.map(({ name, options, shown }) => (
        <Choice
          key={name}
          label={name}
          value={shown ?? ''}
          options={[{ value: '', label: 'none of them' }, ...options.map((value) => ({ value, label: value }))]}
          onChange={(option) => {
            const edits = chooseEdits(layers, name, option || null);
            if (edits.length > 0)
              doc.commit({ do: 'together', edits }, option ? `Show ${option} of ${name}` : `Hide ${name}`);
          }}
        />
      ))}
    </Section>
  );
}
