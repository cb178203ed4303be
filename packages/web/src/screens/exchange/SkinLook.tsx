import { LinearProgress } from '@mui/material';
import useSWR from 'swr';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { GameFile, TemplateCard } from '@wet-lacquer/sync/answers.ts';
import type { ListingAnswer } from '@wet-lacquer/sync/exchange.ts';
import { Notice } from '../../parts/Notice.tsx';
import { BayLevel } from '../bay/BayLevel.tsx';
import { BAY_GROUND, BayModel } from '../bay/BayModel.tsx';
import { useBay } from '../bay/useBay.ts';

/** On the turntable where its subject is here, by the game's own loader; else its pictures. */
export function SkinLook({ skin }: { skin: ListingAnswer }) {
  const at = `/exchange/${skin.id}/${skin.version}`;
  const played = bayGame(skin.game);
  const { data: templates } = useSWR<TemplateCard[]>('/templates');
  const here = played && templates?.some(({ hash }) => hash === skin.template);
  const { data: template } = useSWR<Template>(here ? `/templates/${skin.template}` : null, {
    revalidateIfStale: false,
    revalidateOnFocus: false,
  });
  const { data: files } = useSWR<GameFile[]>(here ? `${at}/folder` : null, {
    revalidateIfStale: false,
    revalidateOnFocus: false,
  });
  const { answer, problem } = useBay(skin.game, template && files, null, template?.mesh ?? null, at);
  const report = answer?.report;
  return (
    <div style={{ minWidth: 0, minHeight: 0, background: BAY_GROUND, position: 'relative' }}>
      {answer?.scene && <BayLevel scene={answer.scene} game={skin.game} />}
      {template && report && played && !answer.scene && (
        <BayModel template={template} report={report} view={played.view} />
      )}
      {problem && <Notice level="error">{problem}</Notice>}
      {here && !answer && !problem && <LinearProgress aria-label="The game is loading it" />}
      {templates && !here && (
        <div style={{ height: '100%', overflow: 'auto', display: 'grid', alignContent: 'center', gap: 8, padding: 16 }}>
          {skin.shows.map((shows, i) => (
            <img
              key={shows}
              src={`/api/exchange/${skin.id}/${skin.version}/pictures/${i}`}
              alt={`${skin.name}, ${shows}`}
              style={{ maxWidth: '100%', margin: '0 auto', display: 'block' }}
            />
          ))}
        </div>
      )}
    </div>
  );
}
