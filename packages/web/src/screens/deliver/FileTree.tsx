import { Button } from '@mui/material';
import { useState } from 'react';
import { send, sentenceOf } from '../../lib/api.ts';
import type { DeliveryCard, PlannedCard, PreflightAnswer } from '../../lib/types.ts';
import { count, size, when } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { INK, MONO } from '../../theme.ts';
import { isUnderWay } from './underWay.ts';

const LEFT_OUT = { bare: 'nothing painted', kept: 'original kept', original: 'as it was' };

interface Props {
  answer: PreflightAnswer;
  chosen: string | null;
  onChoose(name: string): void;
  deliveries: DeliveryCard[];
  onRepeated(): Promise<void>;
}

/** Every file with its name as it will be, and what was delivered before. */
export function FileTree({ answer, chosen, onChoose, deliveries, onRepeated }: Props) {
  const [problem, setProblem] = useState<string | null>(null);
  const repeat = async (id: string) => {
    setProblem(null);
    try {
      await send('POST', `/deliveries/${id}/repeat`);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
    await onRepeated();
  };
  const ended = deliveries.filter((delivery) => !isUnderWay(delivery));
  return (
    <>
      <h2 style={{ fontSize: 15, margin: 0 }}>What will be written</h2>
      <p style={{ margin: '2px 0 12px', fontFamily: MONO, fontSize: 12, color: INK.quiet }}>
        {answer.folder.split('/').filter(Boolean).join(' / ')} /
      </p>
      <table style={{ width: '100%', borderCollapse: 'collapse' }}>
        <thead>
          <tr style={{ color: INK.quiet, textAlign: 'left' }}>
            {['file', 'what', 'size', 'since last'].map((head) => (
              <th
                key={head}
                scope="col"
                style={{ fontWeight: 400, padding: '4px 8px 4px 0', borderBottom: `1px solid ${INK.line}` }}
              >
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {answer.files.map((file) => (
            <Row key={file.name} file={file} chosen={file.name === chosen} onChoose={() => onChoose(file.name)} />
          ))}
        </tbody>
      </table>
      {problem && <Notice level="error">{problem}</Notice>}
      {ended.length > 0 && (
        <>
          <h3 style={{ fontSize: 13, margin: '26px 0 4px' }}>Earlier deliveries</h3>
          <ul style={{ margin: 0, padding: 0, listStyle: 'none' }}>
            {ended.slice(0, 12).map((delivery) => (
              <li
                key={delivery.id}
                style={{
                  display: 'flex',
                  alignItems: 'center',
                  gap: 10,
                  padding: '4px 0',
                  borderBottom: `1px solid ${INK.line}`,
                }}
              >
                <span style={{ width: 120 }}>{when(delivery.finishedAt ?? delivery.createdAt)}</span>
                <span style={{ flex: 1, color: INK.quiet }}>
                  {delivery.state === 'done'
                    ? `${count(delivery.files.length, 'file')} at step ${delivery.revision}`
                    : delivery.state === 'failed'
                      ? `failed: ${delivery.error}`
                      : 'cancelled'}
                  {delivery.replaced.length > 0 &&
                    `, ${count(delivery.replaced.length, 'file')} of somebody else’s kept`}
                </span>
                {delivery.state === 'done' && (
                  <>
                    <Button size="small" component="a" href={`/api/deliveries/${delivery.id}/zip`}>
                      Zip
                    </Button>
                    <Button size="small" onClick={() => void repeat(delivery.id)}>
                      Repeat
                    </Button>
                  </>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

function Row({ file, chosen, onChoose }: { file: PlannedCard; chosen: boolean; onChoose(): void }) {
  const out = file.leftOut !== null;
  const grey = out || file.since === 'unchanged';
  const cell = { padding: '4px 8px 4px 0', borderBottom: `1px solid ${INK.line}`, color: grey ? INK.quiet : INK.text };
  return (
    <tr style={{ background: chosen ? INK.line : 'transparent' }}>
      <td style={{ ...cell, boxShadow: chosen ? `inset 3px 0 0 ${INK.accent}` : undefined, paddingLeft: 8 }}>
        <button
          type="button"
          aria-pressed={chosen}
          onClick={onChoose}
          style={{
            all: 'unset',
            cursor: 'pointer',
            fontFamily: MONO,
            fontSize: 12,
            minHeight: 24,
            display: 'inline-flex',
            alignItems: 'center',
            outline: 'revert',
          }}
        >
          {file.name}
        </button>
      </td>
      <td style={cell}>{out ? LEFT_OUT[file.leftOut!] : file.what}</td>
      <td style={{ ...cell, fontFamily: MONO, fontSize: 12 }}>{out ? '-' : size(file.bytes)}</td>
      <td style={cell}>{out ? 'left out' : file.since}</td>
    </tr>
  );
}
