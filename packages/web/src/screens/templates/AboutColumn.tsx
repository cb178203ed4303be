import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { placeNames } from '@wet-lacquer/core/surface/places.ts';
import { Quiet } from '../../parts/text.tsx';
import { Stack } from '../../parts/layout.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { LayoutNotes } from '../../parts/LayoutNotes.tsx';
import { INK } from '../../theme.ts';
import { OverSkin } from './OverSkin.tsx';
import { KeptFiles } from './KeptFiles.tsx';
import { MentionedIn } from './MentionedIn.tsx';
import { useLooking } from './useLooking.ts';

interface Props {
  sheet: TemplateSheet;
  chosen: readonly number[];
  /** What could not be taken over when it was made. */
  remarks: readonly string[];
  onShow(islands: readonly number[]): void;
}

const heading = { fontSize: 13, margin: '0 0 4px' };

/** What a painter should know before beginning, and what can be begun. */
export function AboutColumn({ sheet, chosen, remarks, onShow }: Props) {
  const { hash, template, layout } = useLooking();
  const { data: newer } = useSWR<{ hash: string } | null>(`/templates/${hash}/newer`);
  const navigate = useNavigate();
  const [problem, setProblem] = useState<string | null>(null);
  const begin = async (path: string, body: unknown) => {
    try {
      const { id } = await send<{ id: string }>('POST', path, body);
      await navigate(`/liveries/${id}`);
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  const takeBack = async () => {
    try {
      await send('DELETE', `/templates/${hash}`);
      await navigate(`/templates/${template.replaces}`);
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  const one = chosen.length === 1 ? layout.islands.find((island) => island.number === chosen[0]) : undefined;
  return (
    <>
      <Button
        variant="contained"
        color="primary"
        onClick={() => void begin('/liveries', { template: hash, name: `${template.name} livery` })}
      >
        Start a livery
      </Button>
      <OverSkin subject={hash} onProblem={setProblem} />
      {problem && <Notice level="error">{problem}</Notice>}
      {newer && (
        <Notice level="warning">
          There is a newer version of this template.{' '}
          <Link to={`/templates/${newer.hash}`} style={{ color: INK.text }}>
            Look at it
          </Link>
        </Notice>
      )}
      {remarks.length > 0 && (
        <Notice level="warning">
          <ul style={{ margin: 0, paddingLeft: 16 }}>
            {remarks.map((remark) => (
              <li key={remark}>{remark}</li>
            ))}
          </ul>
        </Notice>
      )}
      <section>
        <h2 style={heading}>{one ? `${one.cell ? 'Cell' : 'Island'} ${one.number}` : sheet.name}</h2>
        {one ? (
          <p style={{ margin: 0 }}>
            {one.cell
              ? `${sheet.cells?.names?.[one.cell] ?? 'No name yet'}; ${one.box.right - one.box.left} x ${one.box.bottom - one.box.top} at ${one.box.left}, ${one.box.top}`
              : placeNames(template, one.sheet, one.parts).join(', ')}
            {one.density !== null && `; ${Math.round(one.density)} texels per metre`}
            {one.mirrored && '; laid out mirrored'}
            {one.partner !== null && `; island ${one.partner} is its partner on the other side`}.
          </p>
        ) : (
          <p style={{ margin: 0 }}>
            {sheet.width} x {sheet.height}
            {!template.boards &&
              `, ${count(layout.islands.filter((i) => i.sheet === sheet.key).length, 'island')}, ${Math.round((layout.unused[sheet.key] ?? 0) * 100)} % unused`}
            {sheet.axis && `, ${sheet.axis.kind} axis at ${Math.round(sheet.axis.at)}`}
            {(sheet.maps ?? []).length > 0 && `; maps: colour, ${sheet.maps!.map((m) => m.name).join(', ')}`}.
          </p>
        )}
      </section>
      {!template.boards && (
        <section>
          <h2 style={heading}>What to know</h2>
          {layout.notes === null && <LinearProgress aria-label="Looking the layout through" />}
          {layout.notes?.length === 0 && <Quiet as="p">Nothing stands in the way.</Quiet>}
          <LayoutNotes notes={layout.notes ?? []} onShow={onShow} />
        </section>
      )}
      <MentionedIn hash={hash} template={template} sheet={sheet} />
      <KeptFiles />
      <Stack as="section" gap={6}>
        <h2 style={heading}>Take it along</h2>
        <Button onClick={() => void begin(`/templates/${hash}/locator`, {})}>Make a locator to deliver</Button>
        {template.boards && (
          <Quiet as="p" small>
            A grid of numbered cells: what is seen in the game tells what lies where.
          </Quiet>
        )}
        <Button href={`/api/templates/${hash}/package`} download>
          Save as a package
        </Button>
        {!template.boards && (
          <Button href={`/api/templates/${hash}/model.glb`} download>
            Save the model, glTF
          </Button>
        )}
        {template.replaces && !newer && <Button onClick={() => void takeBack()}>Take the last change back</Button>}
      </Stack>
    </>
  );
}
