import { Button, InputBase, LinearProgress } from '@mui/material';
import { useRef, useState, type ReactNode } from 'react';
import useSWR from 'swr';
import { endingsOf } from '@wet-lacquer/core/kinds/index.ts';
import type { DecalCard } from '@wet-lacquer/sync/answers.ts';
import { Grow, Row } from './layout.tsx';
import { Quiet } from './text.tsx';
import { sendFile, sentenceOf } from '../lib/api.ts';
import { ART, INK } from '../theme.ts';
import { Nothing, Notice } from './Notice.tsx';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** Puts a picture or drawing into the library. */
export const uploadDecal = (file: File) =>
  sendFile<DecalCard>(
    `/decals?${new URLSearchParams({ name: cutTo(file.name.replace(/\.[a-z0-9]+$/i, ''), 80) || 'Decal' })}`,
    file,
  );

interface Props {
  /** What choosing one does, as a verb: "Place". */
  verb?: string;
  onChoose?(decal: DecalCard): void;
  onRemove?(decal: DecalCard): void;
  /** What else can be done with one that is one's own. */
  more?(decal: DecalCard): ReactNode;
}

/** The library: search, bring in, choose. */
export function DecalShelf({ verb, onChoose, onRemove, more }: Props) {
  const { data, error, mutate } = useSWR<DecalCard[]>('/decals');
  const [search, setSearch] = useState('');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const wanted = search.toLowerCase().trim();
  const found = data?.filter((decal) =>
    [decal.name, ...decal.tags].some((text) => text.toLowerCase().includes(wanted)),
  );

  const take = async (files: Iterable<File>) => {
    setBusy(true);
    setProblem(null);
    for (const one of files) {
      try {
        const decal = await uploadDecal(one);
        await mutate();
        if (onChoose) onChoose(decal);
      } catch (failure) {
        setProblem(`${one.name}: ${sentenceOf(failure)}`);
      }
    }
    setBusy(false);
  };

  return (
    <div
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        event.stopPropagation();
        void take(event.dataTransfer.files);
      }}
    >
      <Row align="stretch" gap={12} below={12}>
        <InputBase
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          placeholder="Search by name or tag"
          inputProps={{ 'aria-label': 'Search decals' }}
          sx={{ flex: 1, border: `1px solid ${INK.edge}`, borderRadius: '2px', background: INK.raised, px: 1 }}
        />
        <Button onClick={() => file.current?.click()}>Bring in pictures</Button>
        <input
          ref={file}
          type="file"
          multiple
          hidden
          accept={endingsOf('texture', 'drawing')}
          aria-label="Pictures for the library"
          onChange={(event) => {
            if (event.target.files) void take([...event.target.files]);
            event.target.value = '';
          }}
        />
      </Row>
      {busy && <LinearProgress aria-label="Bringing in" />}
      {problem && <Notice level="error">{problem}</Notice>}
      {error && !data && <Notice level="error">{sentenceOf(error)}</Notice>}
      {data?.length === 0 && (
        <Nothing title="The library is empty">PNG, JPEG, WebP and SVG can be brought in, or dropped here.</Nothing>
      )}
      {found?.length === 0 && data!.length > 0 && <Nothing title={`Nothing is called “${search}”`} />}
      <ul
        aria-label="Decals"
        style={{
          display: 'grid',
          gridTemplateColumns: 'repeat(auto-fill, minmax(150px, 1fr))',
          gap: 12,
          padding: 0,
          margin: '12px 0 0',
          listStyle: 'none',
        }}
      >
        {found?.map((decal) => (
          <li
            key={decal.id}
            style={{
              background: INK.panel,
              border: `1px solid ${INK.line}`,
              borderRadius: 2,
              padding: 8,
              display: 'flex',
              flexDirection: 'column',
              gap: 6,
            }}
          >
            <img
              src={`/api/blobs/${decal.blob}/thumb`}
              alt=""
              style={{ width: '100%', height: 96, objectFit: 'contain', background: ART.ground }}
            />
            <strong>{decal.name}</strong>
            <Quiet as="div" small>
              {decal.source === 'svg' ? 'drawing' : 'picture'}
              {decal.tags.length > 0 && `, ${decal.tags.join(', ')}`}
              <br />
              {decal.licence}
            </Quiet>
            <Grow />
            {onChoose && (
              <Button size="small" aria-label={`${verb} ${decal.name}`} onClick={() => onChoose(decal)}>
                {verb}
              </Button>
            )}
            {decal.role === 'own' && more?.(decal)}
            {onRemove && decal.role === 'own' && (
              <Button size="small" aria-label={`Take ${decal.name} out of the library`} onClick={() => onRemove(decal)}>
                Take out
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
