import { Button } from '@mui/material';
import { useDeferredValue, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import useSWR, { mutate } from 'swr';
import {
  previewNewName,
  specUnderNewName,
  wordsToRename,
  type NewName,
  type RenamedFile,
  type TextWish,
} from '@wet-lacquer/core/delivery/newName.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import type { Rename } from '@wet-lacquer/core/delivery/textChange.ts';
import { slugOf } from '@wet-lacquer/core/livery/slug.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { KeptTexts, OpenLivery, SpecCard } from '@wet-lacquer/sync/answers.ts';
import { Stack } from '../../../parts/layout.tsx';
import { Heading } from '../../../parts/text.tsx';
import { get, send, sentenceOf } from '../../../lib/api.ts';
import { sendStep } from '../../../lib/step.ts';
import { count } from '../../../lib/words.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { Notice } from '../../../parts/Notice.tsx';
import { INK, MONO } from '../../../theme.ts';
import { BoundValues } from './BoundValues.tsx';
import { Preview } from './Preview.tsx';
import { WordRows } from './WordRows.tsx';

interface Props {
  open: OpenLivery;
  template: Template;
  spec: DeliverySpec;
  kept: KeptTexts;
}

const WISHES: readonly { value: TextWish; label: string }[] = [
  { value: 'changed', label: 'changed, under its new name' },
  { value: 'beside', label: 'new entries beside the old ones' },
  { value: 'alone', label: 'left alone' },
];

/** The form, and beside it what becomes of each file and line; nothing is kept before the button is pressed. */
export function NewNameForm({ open, template, spec, kept }: Props) {
  const { livery } = open;
  const { texts } = kept;
  const navigate = useNavigate();
  const suggested = useMemo(
    () =>
      wordsToRename(
        [...planDelivery(livery, template, spec).files, ...texts].map(({ name }) => name),
        texts,
      ),
    [livery, template, spec, texts],
  );
  const [renames, setRenames] = useState<readonly Rename[]>([{ word: suggested[0] ?? '', by: '' }]);
  const [wishes, setWishes] = useState<NewName['texts']>({});
  const [values, setValues] = useState<NewName['values']>({});
  const [problem, setProblem] = useState<string | null>(null);
  const words = renames.map(({ word }) => word.trim()).filter(Boolean);
  const mentions = (text: string) => words.some((word) => text.includes(word));
  const wishOf = (name: string, text: string): TextWish =>
    wishes[name] ?? (mentions(text) || (values[name] ?? []).length > 0 ? 'changed' : 'alone');
  const wish: NewName = useDeferredValue({
    renames,
    values,
    texts: Object.fromEntries(texts.map(({ name, text }) => [name, wishOf(name, text)])),
  });
  const made = useMemo((): { spec: DeliverySpec; files: RenamedFile[]; why: string | null } => {
    try {
      const as = { key: spec.key, version: spec.version };
      const next = specUnderNewName(template, spec, texts, wish, as);
      return { spec: next, files: previewNewName(livery, template, spec, next, texts), why: null };
    } catch (error) {
      return { spec, files: [], why: sentenceOf(error) };
    }
  }, [livery, template, spec, texts, wish]);
  const paths = useMemo(
    () =>
      planDelivery(livery, template, { ...spec, sidecars: [] }).files.flatMap((file) =>
        file.kind === 'sheet' && !file.follower && !file.level
          ? [{ sheet: file.master.key, map: file.spec.map, name: file.name }]
          : [],
      ),
    [livery, template, spec],
  );
  // Files that are no texts are asked after on the server.
  const query = new URLSearchParams(words.map((word) => ['word', word])).toString();
  const { data: asked } = useSWR<KeptTexts>(
    kept.binary.length > 0 && words.length > 0 ? `/templates/${livery.pins.template}/texts?${query}` : null,
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  const leftAlone = asked?.binary.filter(({ times }) => times > 0) ?? [];
  const changes = made.files.filter(({ from, to, lines }) => from !== to || lines.length > 0);
  const stops = made.files.flatMap(({ problems }) => problems);

  const make = async () => {
    setProblem(null);
    try {
      const cards = await get<SpecCard[]>('/specs');
      const stem = `${slugOf(renames.find(({ by }) => by.trim())?.by.replace(/[{}.]/g, ' ') ?? '') || 'renamed'}`;
      let key = `as-${stem}`.slice(0, 50);
      for (let n = 2; cards.some((card) => card.key === key); n++) key = `as-${stem}`.slice(0, 46) + `-${n}`;
      const document = { ...made.spec, key, version: 1 };
      await send('POST', '/specs', document);
      await sendStep(
        open.id,
        open.revision,
        { do: 'take-template', template: livery.pins.template, spec: { key, version: 1 }, sheets: [] },
        `Put out under a new name`,
      );
      await mutate('/specs');
      await mutate(`/liveries/${open.id}`);
      await navigate(`/liveries/${open.id}/deliver`);
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };
  return (
    <Stack as="main" columns="440px minmax(0, 1fr)" grow shrink>
      <div
        style={{
          overflowY: 'auto',
          background: INK.panel,
          padding: '14px 16px',
          borderRight: `1px solid ${INK.line}`,
          display: 'grid',
          gap: 14,
          alignContent: 'start',
        }}
      >
        <div>
          <Heading as="h1" size={15}>
            Under a new name
          </Heading>
          <p style={{ margin: '2px 0 0', color: INK.quiet }}>
            The same skin beside the old one: names of files and what texts say of them become others, everything else
            stays to the byte.
          </p>
        </div>
        <WordRows rows={renames} suggested={suggested} livery={livery} onChange={setRenames} />
        {texts.length > 0 && (
          <Stack aria-label="Texts" as="section" gap={8}>
            <Heading as="h2">Texts that came with it</Heading>
            {texts.map((one) => (
              <div
                key={one.name}
                style={{ borderTop: `1px solid ${INK.line}`, paddingTop: 6, display: 'grid', gap: 6 }}
              >
                <span style={{ fontFamily: MONO, fontSize: 12, overflowWrap: 'anywhere' }}>{one.name}</span>
                <Choice
                  label="is"
                  value={wishOf(one.name, one.text)}
                  options={WISHES}
                  onChange={(next) => setWishes({ ...wishes, [one.name]: next })}
                />
                {wishOf(one.name, one.text) !== 'alone' && (
                  <BoundValues
                    text={one}
                    bound={values[one.name] ?? []}
                    livery={livery}
                    paths={paths}
                    onChange={(set) => setValues({ ...values, [one.name]: set })}
                  />
                )}
              </div>
            ))}
          </Stack>
        )}
        {leftAlone.length > 0 && (
          <Notice level="warning">
            {count(leftAlone.length, 'file')} that {leftAlone.length === 1 ? 'is no text names' : 'are no texts name'}{' '}
            these words, and {leftAlone.length === 1 ? 'is' : 'are'} left alone:{' '}
            {leftAlone.map(({ name }) => name).join(', ')}.
          </Notice>
        )}
        {made.why && <Notice level="error">{made.why}</Notice>}
        {problem && <Notice level="error">{problem}</Notice>}
        <Button
          variant="contained"
          color="primary"
          disabled={changes.length === 0 || made.why !== null || stops.length > 0}
          onClick={() => void make()}
        >
          {changes.length === 0 ? 'Nothing changes yet' : `Put out ${count(changes.length, 'file')} otherwise`}
        </Button>
      </div>
      <Preview files={made.files} />
    </Stack>
  );
}
