import { Button } from '@mui/material';
import { useState } from 'react';
import { endingsOf } from '@wet-lacquer/core/kinds/index.ts';
import { sentenceOf } from '../../lib/api.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { Row } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Section } from '../../parts/Section.tsx';
import { Slide } from '../../parts/Slide.tsx';
import { Quiet } from '../../parts/text.tsx';
import { useEasel, useLivery } from '../context.ts';
import { addPhoto, beginMatch, cameraOf, leavePhoto, photosOf, usePhoto } from './photo.ts';

/** Photos of the thing itself, to be traced from: over the model as their camera saw it. */
export function PhotoSection() {
  const { doc } = useEasel();
  const livery = useLivery();
  const { through, strength } = usePhoto();
  const [problem, setProblem] = useState<string | null>(null);
  const photos = photosOf(livery.references);
  return (
    <Section title="A photo over it">
      {photos.map((photo) => (
        <div key={photo.id}>
          <span style={{ display: 'block', overflow: 'hidden', textOverflow: 'ellipsis' }}>{photo.name}</span>
          <Row gap={4}>
            <Button
              size="small"
              aria-pressed={through === photo.id}
              aria-label={`Look through ${photo.name}`}
              disabled={!cameraOf(photo)}
              onClick={() => usePhoto.setState({ through: through === photo.id ? null : photo.id, matching: null })}
            >
              Through it
            </Button>
            <Button size="small" aria-label={`Match ${photo.name}`} onClick={() => beginMatch(photo.id)}>
              Match
            </Button>
            <Button
              size="small"
              aria-label={`Take ${photo.name} away`}
              onClick={() => {
                leavePhoto();
                doc.commit({ do: 'remove-reference', reference: photo.id });
              }}
            >
              Take away
            </Button>
          </Row>
        </div>
      ))}
      {photos.length > 0 && (
        <Slide
          label="strength"
          unit="%"
          value={Math.round(strength * 100)}
          min={0}
          max={100}
          onShow={(value) => value !== null && usePhoto.setState({ strength: value / 100 })}
          onCommit={(value) => usePhoto.setState({ strength: value / 100 })}
        />
      )}
      <FilePick
        size="small"
        label="Photo over the model"
        accept={endingsOf('texture')}
        onFile={(file) => {
          setProblem(null);
          void addPhoto(doc, file).catch((error: unknown) => setProblem(sentenceOf(error)));
        }}
      >
        Lay a photo over it
      </FilePick>
      {photos.length === 0 && (
        <Quiet as="p" small>
          Four places pressed on in both tell its camera; it is never delivered.
        </Quiet>
      )}
      {problem && <Notice level="error">{problem}</Notice>}
    </Section>
  );
}
