import { useState } from 'react';
import { Link } from 'react-router';
import useSWR from 'swr';
import { sentenceOf } from '../../lib/api.ts';
import { sendStep } from '../../lib/step.ts';
import type { OpenLivery, PreflightAnswer, SpecCard } from '../../lib/types.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';

interface Props {
  answer: PreflightAnswer;
  livery: OpenLivery | undefined;
  onChange(): Promise<void>;
}

/** By which rules the livery is delivered. A change is a step of the livery like any other. */
export function SpecChoice({ answer, livery, onChange }: Props) {
  const { data: cards } = useSWR<SpecCard[]>('/specs');
  const [problem, setProblem] = useState<string | null>(null);
  const { spec } = answer;
  const others = (cards ?? []).filter((card) => card.key !== spec.key || card.version !== spec.version);
  const take = async (key: string) => {
    const card = others.find((one) => `${one.key} ${one.version}` === key);
    if (!card || !livery) return;
    setProblem(null);
    const edit = {
      do: 'take-template' as const,
      template: livery.livery.pins.template,
      spec: { key: card.key, version: card.version },
      sheets: [],
    };
    try {
      await sendStep(livery.id, answer.revision, edit, `Deliver by ${card.key}`);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
    await onChange();
  };
  return (
    <div style={{ margin: '0 4px 14px' }}>
      <Choice
        label="spec"
        value={`${spec.key} ${spec.version}`}
        options={[
          { value: `${spec.key} ${spec.version}`, label: spec.gameName, note: `version ${spec.version}` },
          ...others.map((card) => ({
            value: `${card.key} ${card.version}`,
            label: card.gameName,
            note: `${card.key}, version ${card.version}`,
          })),
        ]}
        onChange={(key) => void take(key)}
      />
      {problem && <Notice level="error">{problem}</Notice>}
      <p style={{ margin: '6px 0 0', color: INK.quiet }}>
        <Link to={`/specs/${spec.key}`} style={{ color: INK.text }}>
          What this game wants
        </Link>
        {spec.lacks && `. ${spec.lacks}`}
      </p>
    </div>
  );
}
