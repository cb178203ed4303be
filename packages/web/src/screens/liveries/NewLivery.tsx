import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { get, send, sentenceOf } from '../../lib/api.ts';
import { Choice } from '../../parts/Choice.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { OverSkin } from '../templates/OverSkin.tsx';

export function NewLivery({ onClose }: { onClose(): void }) {
  const { data: templates } = useSWR<TemplateCard[]>('/templates');
  const [name, setName] = useState('');
  const [chosen, setChosen] = useState<string | null>(null);
  const [choices, setChoices] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const template = templates?.find((t) => t.hash === chosen) ?? templates?.[0];

  const start = async (event: FormEvent) => {
    event.preventDefault();
    try {
      // Who types fast is done before the subjects have come.
      const subject = template ?? (await get<TemplateCard[]>('/templates'))[0];
      if (!subject) throw new Error('There is no template yet: bring one in first.');
      const { id } = await send<{ id: string }>('POST', '/liveries', { template: subject.hash, name, choices });
      await navigate(`/liveries/${id}`);
    } catch (failure) {
      setProblem(sentenceOf(failure));
    }
  };

  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="new-livery">
      <form onSubmit={(event) => void start(event)}>
        <DialogTitle id="new-livery">Start a livery</DialogTitle>
        <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
          <TextField
            label="Name"
            value={name}
            onChange={(event) => setName(event.target.value)}
            autoFocus
            required
            size="small"
            sx={{ mt: 1 }}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          {/* In their places before the subjects have come, so that nothing moves under the pointer when they do. */}
          {(template || !templates) && (
            <>
              <Choice
                label="subject"
                value={template?.hash ?? ''}
                disabled={!template}
                options={
                  templates?.map((t) => ({ value: t.hash, label: t.name, note: `for ${t.gameName}` })) ?? [
                    { value: '', label: 'looking …' },
                  ]
                }
                onChange={setChosen}
              />
              <div>
                Sheets: {template?.sheets.map((sheet) => `${sheet.name} ${sheet.width}`).join(', ') ?? 'looking …'}
                {template && '.'}
              </div>
            </>
          )}
          {template?.choices.map(({ name: of, options, shown }) => (
            <Choice
              key={`${template.hash} ${of}`}
              label={of}
              value={choices[of] ?? shown ?? options[0]}
              options={options.map((value) => ({ value, label: value }))}
              onChange={(option) => setChoices({ ...choices, [of]: option })}
            />
          ))}
          <div>
            <OverSkin subject={template?.hash ?? null} onProblem={setProblem} />
          </div>
          {problem && <Notice level="error">{problem}</Notice>}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" color="primary" disabled={name.trim() === ''}>
            Start the livery
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
