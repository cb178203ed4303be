import { IconButton, Radio } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import type { OpenLivery, PreflightAnswer, SpecCard } from '@wet-lacquer/sync/answers.ts';
import { Quiet } from '../../parts/text.tsx';
import { sentenceOf } from '../../lib/api.ts';
import { sendStep } from '../../lib/step.ts';
import { count } from '../../lib/words.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';
import { stopsOf, toWrite } from './answers.ts';
import { Close } from '../../parts/icons.tsx';

interface Props {
  /** Of every spec that the livery is delivered by, its own first. */
  answers: readonly PreflightAnswer[];
  shown: PreflightAnswer;
  livery: OpenLivery;
  onShow(key: string): void;
  onChange(): Promise<void>;
}

/** By which rules the livery is delivered, and which of them is looked at. A change is a step of the livery like any other. */
export function SpecChoice({ answers, shown, livery, onShow, onChange }: Props) {
  const { data: cards = [] } = useSWR<SpecCard[]>('/specs');
  const [problem, setProblem] = useState<string | null>(null);
  const [own] = answers;
  const { alsoBy = [], pins } = livery.livery;
  const idOf = ({ key, version }: { key: string; version: number }) => `${key} ${version}`;
  const free = cards.filter((card) => !answers.some(({ spec }) => spec.key === card.key));
  const step = async (edit: Edit, label: string) => {
    setProblem(null);
    try {
      await sendStep(livery.id, shown.revision, edit, label);
    } catch (error) {
      setProblem(sentenceOf(error));
      onShow(own.spec.key);
    }
    await onChange();
  };
  const chosen = (id: string) => cards.find((card) => idOf(card) === id);
  const take = async (id: string) => {
    const card = chosen(id);
    if (!card) return;
    const { key, version } = card;
    // Its tree is shown at once, greyed until it is known.
    onShow(key);
    await step(
      { do: 'take-template', template: pins.template, spec: { key, version }, sheets: [] },
      `Deliver by ${key}`,
    );
  };
  const add = async (id: string) => {
    const card = chosen(id);
    if (!card) return;
    const { key, version } = card;
    onShow(key);
    await step({ do: 'also-by', specs: [...alsoBy, { key, version }] }, `Deliver by ${key} too`);
  };
  const drop = async (key: string) => {
    onShow(own.spec.key);
    await step({ do: 'also-by', specs: alsoBy.filter((one) => one.key !== key) }, `No longer deliver by ${key}`);
  };
  const option = (card: SpecCard) => ({
    value: idOf(card),
    label: card.gameName,
    note: `${card.key}, version ${card.version}`,
  });
  const newer = cards.filter((card) => card.key === own.spec.key && card.version !== own.spec.version);
  return (
    <div style={{ margin: '0 4px 14px', display: 'grid', gap: 6 }}>
      <Choice
        label="spec"
        value={idOf(own.spec)}
        options={[
          { value: idOf(own.spec), label: own.spec.gameName, note: `version ${own.spec.version}` },
          ...[...newer, ...free].map(option),
        ]}
        onChange={(id) => void take(id)}
      />
      <Choice
        label="and also by"
        value=""
        options={[{ value: '', label: 'another spec' }, ...free.map(option)]}
        disabled={alsoBy.length >= 8}
        onChange={(id) => void add(id)}
      />
      {answers.length > 1 && (
        <ul aria-label="Delivered by" style={{ margin: '4px 0 0', padding: 0, listStyle: 'none' }}>
          {answers.map((answer) => {
            const { key, gameName } = answer.spec;
            const stops = stopsOf(answer);
            return (
              <li key={key} style={{ display: 'flex', alignItems: 'center', minHeight: 32 }}>
                <label style={{ flex: 1, display: 'flex', alignItems: 'center', gap: 4, cursor: 'pointer' }}>
                  <Radio
                    size="small"
                    checked={answer === shown}
                    onChange={() => onShow(key)}
                    slotProps={{ input: { 'aria-label': `Look at ${gameName}, ${key}` } }}
                    sx={{ p: '4px' }}
                  />
                  <span>
                    {gameName}
                    <Quiet>
                      {answers.some((other) => other !== answer && other.spec.gameName === gameName) && ` ${key}`},{' '}
                      {count(toWrite(answer).length, 'file')}
                    </Quiet>
                    {stops > 0 && <span style={{ color: INK.red }}>, {count(stops, 'finding')} to mend</span>}
                  </span>
                </label>
                {answer !== own && (
                  <IconButton size="small" aria-label={`No longer deliver by ${key}`} onClick={() => void drop(key)}>
                    <Close fontSize="small" />
                  </IconButton>
                )}
              </li>
            );
          })}
        </ul>
      )}
      {problem && <Notice level="error">{problem}</Notice>}
      <Quiet as="p">
        <Link to={`/specs/${shown.spec.key}`} style={{ color: INK.text }}>
          What {answers.length > 1 ? shown.spec.gameName : 'this game'} wants
        </Link>
        {shown === own && shown.files.some(({ kind, facts }) => kind === 'companion' || facts?.over) && (
          <>
            {' · '}
            <Link to={`/liveries/${livery.id}/new-name`} style={{ color: INK.text }}>
              Put it out under a new name
            </Link>
          </>
        )}
        {shown.spec.lacks && `. ${shown.spec.lacks}`}
      </Quiet>
    </div>
  );
}
