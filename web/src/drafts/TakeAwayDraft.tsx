import { Button, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { kinds, type FormatName } from '@tea-pencil/core';
import { fetchFile } from '../api/client';
import { usePop } from '../kit/focus';
import { useOpened } from '../opened/opened';

/** The formats that hold what is pending, the common ones first. */
const formats: FormatName[] = ['docx', 'odt', 'html', 'md'];

/** An earlier state as a file. */
export function TakeAwayDraft({ version, name }: { version: number; name: string }) {
  const { info, say } = useOpened();
  const { open, close, props, transition } = usePop();
  const [underway, setUnderway] = useState(false);
  const take = async (copy: string) => {
    setUnderway(true);
    try {
      await fetchFile(`/manuscripts/${info.id}/versions/${version}/copies/${copy}`);
    } catch (problem) {
      say((problem as Error).message);
    }
    setUnderway(false);
  };
  return (
    <>
      <Button color="inherit" variant="outlined" aria-haspopup="menu" loading={underway} onClick={open}>
        Take it away
      </Button>
      <Menu {...props} slotProps={{ transition, list: { 'aria-label': `Take “${name}” away` } }}>
        {formats.map((format) => (
          <MenuItem key={format} onClick={() => close(() => void take(`marked.${format}`))}>
            Marked, {kinds[format].title}
          </MenuItem>
        ))}
        {formats.map((format) => (
          <MenuItem key={format} onClick={() => close(() => void take(`fair.${format}`))}>
            Fair copy, {kinds[format].title}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
