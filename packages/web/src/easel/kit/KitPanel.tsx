import { Button } from '@mui/material';
import { useEffect, useMemo, useState } from 'react';
import { applyEdit } from '@wet-lacquer/core/livery/edit.ts';
import { facesOf } from '@wet-lacquer/core/kit/faces.ts';
import { partsOf, proposeAims, putOn } from '@wet-lacquer/core/kit/kit.ts';
import type { Face, KitPart, Parcel } from '@wet-lacquer/core/livery/parcel.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { sheetNamed, type Template } from '@wet-lacquer/core/livery/template.ts';
import { sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { PlainList, Row } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { INK } from '../../theme.ts';
import { commitAll, onEverySheet } from '../actions.ts';
import { useEasel, useLivery, useTemplate } from '../context.ts';
import type { EaselDocument } from '../document.ts';
import { announce, choose } from '../session.ts';
import { bringNear } from '../turntable/modelView.ts';
import { leaveKit } from './kit.ts';

const nameOf = ({ sheet, key }: Face) => `${sheet}/${key}`;

/** Where the marks of a kit go, asked for part by part; what is chosen is seen on sheet and model, and is one step when it is put down. */
export function KitPanel({ kit, of }: { kit: Parcel; of: string }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const template = useTemplate();
  const faces = useMemo(() => facesOf(template), [template]);
  const parts = useMemo(() => partsOf(kit), [kit]);
  const [aims, setAims] = useState(() => proposeAims(parts, faces));
  const [onModel, setOnModel] = useState(kit.from.template === livery.pins.template);
  const lying = kit.layers.filter(({ on }) => on);
  const put = usePut(kit, livery, template, aims, onModel);
  const { problem } = put;
  useEffect(() => {
    doc.show(problem === null && put.edits.length > 0 ? { do: 'together', edits: put.edits } : null);
  }, [doc, put, problem]);
  useEffect(() => () => doc.show(null), [doc]);

  const take = () => {
    if (put.edits.length === 0) {
      announce('All of it is here already');
      return leaveKit();
    }
    commitAll(doc, put.edits, `Put down a kit, ${put.words}`);
    const last = put.marks.at(-1);
    if (last) choose(last.layer.id, last.sheet);
    announce(`${put.words} put down`);
    leaveKit();
  };
  return (
    <section aria-label="A kit">
      <Heading as="h2" size={15}>
        {of}
      </Heading>
      <Quiet as="p" small>
        {count(kit.scheme.length, 'colour')}, {count(kit.layers.length, 'mark')}.{' '}
        {parts.length > 0 && 'Say where they go: the sheet and the model show it.'}
      </Quiet>
      {problem && <Notice level="error">{problem}</Notice>}
      <hr style={{ border: 0, borderTop: `1px solid ${INK.line}`, margin: '10px 0' }} />
      <PlainList gap={14} aria-label="Parts of the kit">
        {parts.map((part) => (
          <Aim
            key={nameOf(part.face)}
            part={part}
            kit={kit}
            template={template}
            faces={faces}
            to={aims.get(part) ?? null}
            onChange={(to) => setAims(new Map(aims).set(part, to))}
          />
        ))}
      </PlainList>
      {lying.length > 0 && (
        <Tick
          label={`${count(lying.length, 'mark')} on the model, as they lie there`}
          checked={onModel}
          onChange={setOnModel}
        />
      )}
      {put.left.length > 0 && (
        <Quiet as="p" small>
          Without a place of their own, left out: {put.left.join(', ')}.
        </Quiet>
      )}
      <Row gap={6} above={14} wrap>
        <Button variant="contained" color="primary" disabled={problem !== null} onClick={take}>
          Put down {put.words}
        </Button>
        <Button onClick={leaveKit}>Leave it</Button>
      </Row>
    </section>
  );
}

/** What would be put down, in edits and in words. */
function usePut(
  kit: Parcel,
  livery: Livery,
  template: Template,
  aims: ReadonlyMap<KitPart, Face | null>,
  onModel: boolean,
) {
  const { doc } = useEasel();
  return useMemo(() => {
    const put = putOn(kit, livery, template, aims, onModel ? 'as they lie' : 'left out');
    const colours = put.edits.filter((edit) => edit.do === 'add-colour').length;
    const words = [
      put.marks.length > 0 || colours === 0 ? count(put.marks.length, 'mark') : null,
      colours > 0 ? count(colours, 'colour') : null,
    ];
    const edits = spread(doc, put.edits);
    let problem: string | null = null;
    try {
      applyEdit(livery, { do: 'together', edits });
    } catch (error) {
      problem = sentenceOf(error);
    }
    return { ...put, edits, problem, words: words.filter((word) => word !== null).join(', ') };
  }, [doc, kit, livery, template, aims, onModel]);
}

/** What lies on the model is put on every sheet that it reaches. */
const spread = (doc: EaselDocument, edits: ReturnType<typeof putOn>['edits']) =>
  edits.flatMap((edit) => (edit.do === 'add-layer' && edit.layer.on ? onEverySheet(doc, edit) : [edit]));

const NOWHERE = 'nowhere';

/** The marks of one part, and where they go. */
function Aim({
  part,
  kit,
  template,
  faces,
  to,
  onChange,
}: {
  part: KitPart;
  kit: Parcel;
  template: Template;
  faces: readonly Face[];
  to: Face | null;
  onChange(to: Face | null): void;
}) {
  const names = kit.layers.filter(({ id }) => part.layers.includes(id)).map(({ name }) => name);
  const options = [
    { value: NOWHERE, label: 'nowhere: they are left out' },
    ...faces.map((face) => ({
      value: nameOf(face),
      label: face.name,
      note: template.sheets.length > 1 ? sheetNamed(template, face.sheet).name : undefined,
    })),
  ];
  const show = () => {
    if (!to) return;
    choose(null, to.sheet);
    if (template.parts.some(({ key }) => key === to.key)) bringNear(to.key);
  };
  return (
    <li>
      <div style={{ fontWeight: 600 }}>{part.face.name}</div>
      <Quiet as="div" small>
        {names.join(', ')}
      </Quiet>
      <Row gap={6} above={4}>
        <span style={{ flex: 1, minWidth: 0 }}>
          <Choice
            label="go to"
            value={to ? nameOf(to) : NOWHERE}
            options={options}
            onChange={(name) => onChange(faces.find((face) => nameOf(face) === name) ?? null)}
          />
        </span>
        <Button
          size="small"
          sx={{ minWidth: 0 }}
          disabled={!to}
          aria-label={`Show where the marks of ${part.face.name} go`}
          onClick={show}
        >
          Show
        </Button>
      </Row>
    </li>
  );
}
