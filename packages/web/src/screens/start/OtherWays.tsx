import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { LinearProgress } from '@mui/material';
import { endingsOf } from '@wet-lacquer/core/kinds/index.ts';
import { sentenceOf } from '../../lib/api.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import { useBundle } from '../liveries/useBundle.ts';
import { bringIn, chosen } from '../templates/bring.ts';
import { OverSkin } from '../templates/OverSkin.tsx';

/** Ways to a livery that begin with files, each with a line of what it takes. */
export function OtherWays({
  subject,
  onProblem,
}: {
  subject: string | null;
  onProblem(sentence: string | null): void;
}) {
  const navigate = useNavigate();
  const { opening, open } = useBundle(onProblem);
  const bring = async (files: FileList) => {
    try {
      await navigate(`/templates/bring/${await bringIn(chosen(files))}`);
    } catch (failure) {
      onProblem(sentenceOf(failure));
    }
  };
  return (
    <>
      <ul
        aria-label="Other ways to begin"
        style={{
          display: 'grid',
          gridTemplateColumns: 'repeat(auto-fit, minmax(170px, 1fr))',
          gap: 10,
          listStyle: 'none',
          padding: 0,
          margin: '12px 0 0',
        }}
      >
        <Way says="Its textures, as they lie in the game’s folder: paint over them, change nothing else.">
          <OverSkin subject={subject} onProblem={onProblem} />
        </Way>
        <Way says="A layered template (.psd, .ora): its layers become guides and art.">
          <FilePick label="Layered file" accept={endingsOf('layered')} onFiles={(files) => void bring(files)}>
            From a layered file
          </FilePick>
        </Way>
        <Way says="A model, textures or an archive of a subject that is not here yet.">
          <FilePick label="Files of a subject" onFiles={(files) => void bring(files)}>
            Bring in your own
          </FilePick>
        </Way>
        <Way says="A livery that somebody saved or gave you (.livery).">
          <FilePick label="Livery bundle" accept=".livery,.zip" onFile={(file) => void open(file)}>
            Open a bundle
          </FilePick>
        </Way>
      </ul>
      {opening && (
        <div role="status" style={{ marginTop: 8 }}>
          Opening {opening}
          <LinearProgress />
        </div>
      )}
    </>
  );
}

const Way = ({ says, children }: { says: string; children: ReactNode }) => (
  <li
    style={{
      border: `1px solid ${INK.line}`,
      borderRadius: 2,
      background: INK.panel,
      padding: 10,
      display: 'flex',
      flexDirection: 'column',
      alignItems: 'flex-start',
      gap: 8,
    }}
  >
    {children}
    <Quiet small>{says}</Quiet>
  </li>
);
