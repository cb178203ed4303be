import { useState } from 'react';
import { mutate } from 'swr';
import type { DecalCard } from '@wet-lacquer/sync/answers.ts';
import { Column } from '../../parts/layout.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { DecalShelf } from '../../parts/DecalShelf.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ShareButton } from '../../people/ShareButton.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';

export function DecalsScreen() {
  const [problem, setProblem] = useState<string | null>(null);
  const remove = async (decal: DecalCard) => {
    try {
      await send('DELETE', `/decals/${decal.id}`);
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
    await mutate('/decals');
  };
  return (
    <Column full>
      <TopBar trail="Decals" />
      <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
        <h1 style={{ fontSize: 18, margin: '0 0 4px' }}>Decals</h1>
        <p style={{ margin: '0 0 16px', color: INK.quiet }}>
          Logos, emblems and sponsors for every livery. Taking one out leaves the liveries that wear it as they are.
        </p>
        {problem && <Notice level="error">{problem}</Notice>}
        <DecalShelf
          onRemove={(decal) => void remove(decal)}
          more={({ id, name }) => <ShareButton kind="decal" object={id} name={name} small />}
        />
      </main>
    </Column>
  );
}
