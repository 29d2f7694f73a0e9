import { FormControlLabel, Radio, RadioGroup } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { request } from '../api/client';
import { keys } from '../api/keys';
import { NameDialog } from './NameDialog';

/** A new manuscript: how it is called, and in what it begins. */
export function Beginning({ onClose }: { onClose(): void }) {
  const [hand, setHand] = useState('ink');
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { enqueueSnackbar } = useSnackbar();
  const create = async (title: string) => {
    try {
      const { id } = await request<{ id: string }>('POST', '/manuscripts', { title });
      void queries.invalidateQueries({ queryKey: keys.desk });
      void navigate(`/m/${id}`, { state: { hand } });
    } catch (problem) {
      enqueueSnackbar((problem as Error).message);
    }
  };
  return (
    <NameDialog title="New manuscript" button="Begin" onClose={onClose} onName={(title) => void create(title)}>
      <RadioGroup value={hand} onChange={(_, next) => setHand(next)} aria-label="How it begins" sx={{ mt: 1 }}>
        <FormControlLabel
          value="ink"
          control={<Radio size="small" />}
          label="In ink, until it is shared: nothing is recorded"
        />
        <FormControlLabel value="pencil" control={<Radio size="small" />} label="In pencil: every change is recorded" />
      </RadioGroup>
    </NameDialog>
  );
}
