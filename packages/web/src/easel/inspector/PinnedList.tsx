import { Button } from '@mui/material';
import { useState } from 'react';
import { endingsOf } from '@wet-lacquer/core/kinds/index.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { Row } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { sendFile, sentenceOf } from '../../lib/api.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { useEasel, useLivery } from '../context.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';
import { ART } from '../../theme.ts';

/** The sheet's reference pictures: pinned beside it to look at, never delivered. */
export function PinnedList({ sheet }: { sheet: TemplateSheet }) {
  const { doc } = useEasel();
  const livery = useLivery();
  const [problem, setProblem] = useState<string | null>(null);
  const mine = (livery.references ?? []).filter((one) => one.sheet === sheet.key && !one.pairs);
  const pin = async (picture: File) => {
    setProblem(null);
    try {
      const { blob, width, height } = await sendFile<{ blob: Sha256; width: number; height: number }>(
        '/pictures',
        picture,
      );
      const wide = Math.round(sheet.width * 0.45);
      const below = mine.reduce((y, one) => Math.max(y, one.top + one.height + sheet.height * 0.04), 0);
      const name = cutTo(picture.name.replace(/\.[^.]*$/, ''), 80) || 'Picture';
      const tall = Math.max(1, Math.round((wide * height) / width));
      const reference = {
        id: crypto.randomUUID(),
        name,
        blob,
        sheet: sheet.key,
        left: Math.round(sheet.width * 1.04),
        top: Math.round(below),
        width: wide,
        height: tall,
      };
      doc.commit({ do: 'add-reference', reference });
    } catch (error) {
      setProblem(sentenceOf(error));
    }
  };
  return (
    <>
      {mine.map((one) => (
        <Row key={one.id} gap={8}>
          <img
            src={`/api/blobs/${one.blob}/thumb`}
            alt=""
            style={{ width: 34, height: 26, objectFit: 'cover', background: ART.ground }}
          />
          <span style={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }}>{one.name}</span>
          <Button
            size="small"
            aria-label={`Unpin ${one.name}`}
            onClick={() => doc.commit({ do: 'remove-reference', reference: one.id })}
          >
            Unpin
          </Button>
        </Row>
      ))}
      {mine.length === 0 && (
        <Quiet as="p">
          Pictures to look at lie right of the sheet; a click on one takes its colour into the scheme.
        </Quiet>
      )}
      <FilePick
        size="small"
        label="Picture to pin"
        accept={endingsOf('texture')}
        onFile={(picture) => void pin(picture)}
      >
        Pin a picture
      </FilePick>
      {problem && <Notice level="error">{problem}</Notice>}
    </>
  );
}
