import { Box, Button, Popover, TextField } from '@mui/material';
import { useRef, useState } from 'react';
import { insertTable } from '@tea-pencil/core';
import { useCommands } from '../../commands/acts';
import { usePopRule } from '../../kit/focus';
import { useOpened } from '../../opened/opened';

const [mostRows, mostColumns] = [8, 10];
const largest = 60;

/** How large a new table is: drawn over a small grid, or said in numbers. */
export function TableMenu() {
  const { edit, toText } = useOpened();
  const at = useRef<HTMLSpanElement>(null);
  const [open, setOpen] = useState(false);
  const [[rows, columns], setSize] = useState<[rows: number, columns: number]>([3, 3]);
  const done = useRef(false);
  const { onExited, ...rule } = usePopRule(() => {
    if (done.current) toText();
    done.current = false;
  });
  useCommands({ table: () => setOpen(true) });
  const put = (size: [number, number]) => {
    if (done.current) return; // pressed twice
    // At once, by the hand that was held when it was chosen.
    edit(insertTable(...size));
    done.current = true;
    setOpen(false);
  };
  const number = (label: string, value: number, set: (n: number) => void) => (
    <TextField
      size="small"
      type="number"
      label={label}
      value={value}
      onChange={({ target }) => set(Math.max(1, Math.min(largest, Number(target.value) || 1)))}
      slotProps={{ htmlInput: { min: 1, max: largest } }}
      sx={{ width: 92 }}
    />
  );
  return (
    <>
      <span ref={at} />
      <Popover
        anchorEl={() => at.current}
        open={open}
        onClose={() => setOpen(false)}
        {...rule}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ transition: { onExited }, paper: { role: 'dialog', 'aria-label': 'Table', sx: { p: 2 } } }}
      >
        <div className="table-size" aria-hidden onClick={() => put([rows, columns])}>
          {Array.from({ length: mostRows * mostColumns }, (_, i) => {
            const [row, column] = [Math.floor(i / mostColumns), i % mostColumns];
            return (
              <span
                key={i}
                className={row < rows && column < columns ? 'in' : undefined}
                onPointerEnter={() => setSize([row + 1, column + 1])}
              />
            );
          })}
        </div>
        <Box
          component="form"
          sx={{ display: 'flex', gap: 1, mt: 1.5, alignItems: 'center' }}
          onSubmit={(event) => {
            event.preventDefault();
            put([rows, columns]);
          }}
        >
          {number('Rows', rows, (n) => setSize([n, columns]))}
          {number('Columns', columns, (n) => setSize([rows, n]))}
          <Button type="submit" variant="contained" autoFocus>
            Put in
          </Button>
        </Box>
      </Popover>
    </>
  );
}
