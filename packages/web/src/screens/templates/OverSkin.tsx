import { useNavigate } from 'react-router';
import { endingsOf } from '@wet-lacquer/core/kinds/index.ts';
import { sentenceOf } from '../../lib/api.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { bringIn, chosen } from './bring.ts';

/** The way to a livery over a finished skin: its files are chosen, and settled on a screen of their own. */
export function OverSkin({ subject, onProblem }: { subject: string | null; onProblem(sentence: string): void }) {
  const navigate = useNavigate();
  const take = async (files: FileList) => {
    try {
      const id = await bringIn(chosen(files));
      await navigate(`/templates/bring/${id}`, { state: { want: 'livery', subject } });
    } catch (failure) {
      onProblem(sentenceOf(failure));
    }
  };
  return (
    <FilePick
      label="Files of a finished skin"
      accept={`${endingsOf('texture', 'layered')},.zip`}
      onFiles={(files) => void take(files)}
    >
      Start from a finished skin
    </FilePick>
  );
}
