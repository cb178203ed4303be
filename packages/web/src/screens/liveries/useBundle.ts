import { useState } from 'react';
import { useNavigate } from 'react-router';
import { sendFile, sentenceOf } from '../../lib/api.ts';

/** Opens a bundle as a livery and goes there. @returns how, and the name of the one that is being opened */
export function useBundle(onProblem: (sentence: string | null) => void): {
  opening: string | null;
  open(bundle: File): Promise<void>;
} {
  const [opening, setOpening] = useState<string | null>(null);
  const navigate = useNavigate();
  const open = async (bundle: File) => {
    setOpening(bundle.name);
    onProblem(null);
    try {
      const { id } = await sendFile<{ id: string }>('/liveries/open', bundle);
      await navigate(`/liveries/${id}`);
    } catch (failure) {
      onProblem(`${bundle.name}: ${sentenceOf(failure)}`);
    } finally {
      setOpening(null);
    }
  };
  return { opening, open };
}
