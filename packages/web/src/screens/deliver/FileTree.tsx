import { Button } from '@mui/material';
import { useState } from 'react';
import type { DeliveryCard, PlannedCard, PreflightAnswer } from '@wet-lacquer/sync/answers.ts';
import { baseOf, folderOf } from '@wet-lacquer/core/paths.ts';
import { Heading, Mono, Quiet } from '../../parts/text.tsx';
import { PlainList, Row } from '../../parts/layout.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { count, size, dateInWords } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { INK, MONO } from '../../theme.ts';
import { isUnderWay } from './underWay.ts';

const LEFT_OUT = { bare: 'nothing painted', kept: 'left to the game', original: 'as it was' };

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
  const [said, setSaid] = useState<string | null>(null);
  const act = async (id: string, what: 'repeat' | 'take-back') => {
    setProblem(null);
    setSaid(null);
    try {
      const { left = [] } = await send<{ left?: string[] }>('POST', `/deliveries/${id}/${what}`);
      if (what === 'take-back')
        setSaid(
          left.length > 0
            ? `Taken back. ${left.join(', ')} stayed: it was changed since.`
            : 'Taken back: what it replaced is in its place again.',
        );
    } catch (error) {
      setProblem(sentenceOf(error));
    }
    await onRepeated();
  };
  const ended = deliveries.filter((delivery) => !isUnderWay(delivery));
  return (
    <>
      <Heading as="h2" size={15}>
        What will be written
      </Heading>
      <p style={{ margin: '2px 0 12px', fontFamily: MONO, fontSize: 12, color: INK.quiet }}>
        {answer.package
          ? `in ${answer.package}`
          : answer.folder === ''
            ? 'the game’s folder'
            : `${answer.folder.split('/').filter(Boolean).join(' / ')} /`}
        {answer.slot && `, ${answer.slot.called} ${answer.slot.is ?? 'not free'}`}
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
          {byFolder(answer.files).map(([folder, files]) => [
            folder !== '' && (
              <tr key={folder}>
                <th
                  scope="rowgroup"
                  colSpan={4}
                  style={{ textAlign: 'left', padding: '10px 0 2px', fontWeight: 400, color: INK.quiet }}
                >
                  <Mono small>{folder}</Mono>
                </th>
              </tr>
            ),
            ...files.map((file) => (
              <FileRow key={file.name} file={file} chosen={file.name === chosen} onChoose={() => onChoose(file.name)} />
            )),
          ])}
        </tbody>
      </table>
      {problem && <Notice level="error">{problem}</Notice>}
      {said && (
        <p role="status" style={{ margin: '12px 0 0' }}>
          {said}
        </p>
      )}
      {ended.length > 0 && (
        <>
          <h3 style={{ fontSize: 13, margin: '26px 0 4px' }}>Earlier deliveries</h3>
          <PlainList>
            {ended.slice(0, 12).map((delivery, i) => {
              const byIt = (one: DeliveryCard) => one.state === 'done' && one.specKey === delivery.specKey;
              const before = ended.slice(i + 1).find(byIt);
              const newest = !ended.slice(0, i).some(byIt);
              return (
                <li key={delivery.id} style={{ padding: '4px 0', borderBottom: `1px solid ${INK.line}` }}>
                  <Row gap={10}>
                    <span style={{ width: 120 }}>{dateInWords(delivery.finishedAt ?? delivery.createdAt)}</span>
                    <span style={{ flex: 1, color: INK.quiet }}>
                      {ended.some((one) => one.specKey !== delivery.specKey) && `${delivery.specKey}: `}
                      {outcome(delivery)}
                    </span>
                    {(delivery.state === 'done' || delivery.state === 'taken-back') && (
                      <>
                        <Button size="small" component="a" href={`/api/deliveries/${delivery.id}/zip`}>
                          {delivery.package ? 'Package' : 'Zip'}
                        </Button>
                        <Button size="small" component="a" href={`/api/deliveries/${delivery.id}/note`}>
                          Note
                        </Button>
                      </>
                    )}
                    {delivery.state === 'done' && (
                      <>
                        <Button size="small" onClick={() => void act(delivery.id, 'repeat')}>
                          Repeat
                        </Button>
                        {newest && (
                          <Button size="small" onClick={() => void act(delivery.id, 'take-back')}>
                            Take back
                          </Button>
                        )}
                      </>
                    )}
                  </Row>
                  {delivery.state === 'done' && before && (
                    <Quiet as="div" small>
                      since the one before: {changes(before, delivery)}
                    </Quiet>
                  )}
                </li>
              );
            })}
          </PlainList>
        </>
      )}
    </>
  );
}

/** Files by the folder that they lie in, in the order in which they come. */
function byFolder(files: readonly PlannedCard[]): [folder: string, files: PlannedCard[]][] {
  const folders = new Map<string, PlannedCard[]>();
  for (const file of files) {
    const folder = folderOf(file.name);
    folders.set(folder, [...(folders.get(folder) ?? []), file]);
  }
  return [...folders];
}

function outcome(delivery: DeliveryCard): string {
  const kept = delivery.replaced.length > 0 ? `, ${count(delivery.replaced.length, 'file')} that lay there kept` : '';
  if (delivery.state === 'failed') return `failed: ${delivery.error}`;
  if (delivery.state === 'cancelled') return 'cancelled';
  const files = `${count(delivery.files.length, 'file')} at step ${delivery.revision}`;
  return delivery.state === 'taken-back' ? `${files}, taken back` : files + kept;
}

/** What a delivery has that the one before had not, in words. */
function changes(before: DeliveryCard, after: DeliveryCard): string {
  const was = new Map(before.files.map((file) => [file.name, file.blob]));
  const is = new Map(after.files.map((file) => [file.name, file.blob]));
  const list = (word: string, names: string[]) => (names.length > 0 ? [`${names.join(', ')} ${word}`] : []);
  const said = [
    ...list(
      'new',
      [...is.keys()].filter((name) => !was.has(name)),
    ),
    ...list(
      'changed',
      [...is.keys()].filter((name) => was.has(name) && was.get(name) !== is.get(name)),
    ),
    ...list(
      'gone',
      [...was.keys()].filter((name) => !is.has(name)),
    ),
  ];
  return said.join('; ') || 'the same files';
}

function FileRow({ file, chosen, onChoose }: { file: PlannedCard; chosen: boolean; onChoose(): void }) {
  const out = file.leftOut !== null;
  const grey = out || file.since === 'unchanged';
  const cell = { padding: '4px 8px 4px 0', borderBottom: `1px solid ${INK.line}`, color: grey ? INK.quiet : INK.text };
  return (
    <tr style={{ background: chosen ? INK.line : 'transparent' }}>
      <td style={{ ...cell, boxShadow: chosen ? `inset 3px 0 0 ${INK.accent}` : undefined, paddingLeft: 8 }}>
        <button
          type="button"
          aria-pressed={chosen}
          aria-label={file.name}
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
          {baseOf(file.name)}
        </button>
      </td>
      <td style={{ ...cell, whiteSpace: 'nowrap' }}>{out ? LEFT_OUT[file.leftOut!] : file.what}</td>
      <td style={{ ...cell, fontFamily: MONO, fontSize: 12, whiteSpace: 'nowrap' }}>
        {out ? '-' : file.bytes === 0 ? 'when made' : size(file.bytes)}
      </td>
      <td style={cell}>{out ? 'left out' : file.since}</td>
    </tr>
  );
}
