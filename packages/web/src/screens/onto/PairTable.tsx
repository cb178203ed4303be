import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { FitAnswer } from '@wet-lacquer/sync/answers.ts';
import { Choice } from '../../parts/Choice.tsx';
import { PlainList, Row } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';

const NOTHING = '-';

/** What is wrong with a part, in a few words. */
function wordsOf({ missing, far, stretched, by }: FitAnswer['parts'][number]): string {
  const percent = (share: number) => `${Math.max(1, Math.round(share * 100))} %`;
  const said = [
    ...(missing > 0.005 ? [`${percent(missing)} without a counterpart`] : []),
    ...(far > 0.005 ? [`${percent(far)} farther off`] : []),
    ...(stretched > 0.005 ? [`${percent(stretched)} stretched`] : []),
  ];
  const grown = by === 'the part' ? 'sized to it' : by === 'the whole' ? 'sized as the whole' : '';
  return [...said, grown].filter(Boolean).join(', ') || 'fits';
}

/** Which part of the old model each painted part of the new one comes from. */
export function PairTable({
  old,
  now,
  answer,
  disabled,
  onPair,
}: {
  old: Template;
  now: Template;
  answer: FitAnswer;
  disabled: boolean;
  onPair(part: string, from: string | null): void;
}) {
  const options = [
    { value: NOTHING, label: 'nothing' },
    ...old.parts.filter(({ sheet }) => sheet !== null).map(({ key, name }) => ({ value: key, label: name })),
  ];
  return (
    <PlainList gap={8} aria-label="Parts">
      {now.parts
        .filter(({ sheet }) => sheet !== null)
        .map(({ key, name }) => {
          const said = answer.parts.find(({ part }) => part === key);
          const from = answer.fit.pairs[key] ?? null;
          const words = from === null ? 'stays bare' : said ? wordsOf(said) : '';
          return (
            <li key={key}>
              <Choice
                label={`${name} from`}
                value={from ?? NOTHING}
                options={options}
                disabled={disabled}
                onChange={(value) => onPair(key, value === NOTHING ? null : value)}
              />
              <Row gap={6} pad="2px 2px 0">
                <span
                  aria-hidden
                  style={{
                    width: 8,
                    height: 8,
                    borderRadius: 1,
                    background: words === 'fits' || words.startsWith('sized') ? INK.accent : INK.amber,
                  }}
                />
                <Quiet small>{words}</Quiet>
              </Row>
            </li>
          );
        })}
    </PlainList>
  );
}
