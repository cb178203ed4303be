import { useState } from 'react';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { EaselContext, type Easel } from '../../easel/context.ts';
import { openDocument } from '../../easel/document.ts';
import { notThere, sendLeft } from '../../easel/unsent.ts';
import { emptyHand } from '../../easel/hand.ts';
import { leaveNotes } from '../../easel/notes/notes.ts';
import { Workspace } from '../../easel/Workspace.tsx';
import { choose, setTrouble, useSession } from '../../easel/session.ts';
import { withSpec } from '../../lib/specs.ts';
import { get } from '../../lib/api.ts';
import { useOpened } from '../../lib/useOpened.ts';
import { Opening } from '../../shell/Opening.tsx';
import { flatRenderers, RenderClient } from '../../workers/renderClient.ts';

/** The sheet comes first: the model and small pictures begin when it is shown, or after so long. */
const SHEET_FIRST_MS = 4000;

/** Opens a livery and puts it on the easel. */
export function EaselScreen() {
  const id = useRouteParam('id');
  const [attempt, setAttempt] = useState(0);
  return <Open key={`${id} ${attempt}`} id={id} onRetry={() => setAttempt(attempt + 1)} />;
}

function Open({ id, onRetry }: { id: string; onRetry(): void }) {
  const { opened, problem } = useOpened(id, open, closeAll);
  if (!opened) return <Opening problem={problem} onRetry={onRetry} />;
  return (
    <EaselContext.Provider value={opened}>
      <Workspace />
    </EaselContext.Provider>
  );
}

async function open(id: string): Promise<Easel> {
  // The renderers get ready while the livery is on its way.
  const flat = new RenderClient(flatRenderers());
  const late = new Promise((resolve) => setTimeout(resolve, SHEET_FIRST_MS));
  const sheetShown = Promise.race([flat.drawn, late]);
  const model = new RenderClient(1, sheetShown);
  flat.onFewer = (left, of) => setTrouble(`Drawing with ${left} of ${of} renderers: the others could not be started.`);
  try {
    // What was left here from before comes first; what cannot be sent now stays on top of what is shown.
    if (notThere(id) > 0) await sendLeft(id).catch(() => {});
    const livery = await get<OpenLivery>(`/liveries/${id}`);
    const template = withSpec(await get<Template>(`/templates/${livery.livery.pins.template}`), livery.spec);
    for (const client of [flat, model]) {
      // What it cannot load it says again when the sheet is drawn; an easel that is left at once needs no answer.
      client.begin(template).catch(() => {});
      client.ask('livery', { livery: livery.livery, hot: null }).catch(() => {});
    }
    lookAt(template);
    return { doc: openDocument(livery, template), flat, model, sheetShown };
  } catch (error) {
    flat.close();
    model.close();
    throw error;
  }
}

/** Goes to the sheet, the layer or the field that the address names. */
function lookAt({ sheets }: Template): void {
  setTrouble(null);
  emptyHand();
  leaveNotes();
  const { sheet } = useSession.getState();
  if (!sheets.some((s) => s.key === sheet)) choose(null, sheets[0].key);
  const wanted = new URLSearchParams(location.search);
  const shown = wanted.get('sheet');
  if (shown) choose(wanted.get('layer'), shown);
  if (wanted.get('particular'))
    useSession.setState({ column: 'particulars', focus: `particular-${wanted.get('particular')}` });
}

function closeAll({ doc, flat, model }: Easel): void {
  doc.close();
  flat.close();
  model.close();
}
