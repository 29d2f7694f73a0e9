import { Box, Button, IconButton, Paper, Tooltip } from '@mui/material';
import { useState } from 'react';
import {
  alikeKey,
  describeChange,
  everything,
  inSentence,
  type Change,
  type Piece,
  type Thread,
} from '@tea-pencil/core';
import { whoIs } from '../api/queries';
import { useCommands } from '../commands/acts';
import { useDrawn, useLooking, useOpened } from '../opened/opened';
import { Pieces } from '../reviewing/Pieces';
import { ChangeTalk } from '../talk/ChangeTalk';
import { interfaceFont } from '../theme/theme';
import { exactly, said } from '../kit/time';
import { TogetherRows, type Group } from './TogetherRows';
import { useDecide } from './use-deciding';

function Sentence({
  label,
  side,
  pieces,
  change,
}: {
  label: string;
  side: 'before' | 'after';
  pieces: Piece[];
  change: Change;
}) {
  return (
    <Box sx={{ display: 'flex', gap: 1.5, mb: 0.5 }}>
      <Box
        sx={{
          width: 46,
          textAlign: 'right',
          fontSize: 11,
          fontWeight: 600,
          color: 'text.secondary',
          pt: '4px',
          flex: 'none',
        }}
      >
        {label}
      </Box>
      <Box
        className="serif"
        sx={{ fontSize: 15, lineHeight: 1.45, whiteSpace: 'pre-wrap' }}
        data-author={change.author}
      >
        <Pieces pieces={pieces} side={side} change={change} />
      </Box>
    </Box>
  );
}

interface Props {
  change: Change;
  left: number;
  top: number;
  /** Other changes that can be decided in the same act. */
  together: Group[];
  /** Where a moved passage stands otherwise, and where it came from or goes. */
  otherEnd: { label: string; go(): void } | null;
  /** What deciding would leave wrong with the spaces. */
  warning: string | null;
  /** What has been said about the change. */
  threads: readonly Thread[];
  onClose(): void;
}

/** The card under a change: before and after in its sentence, who, when, and the decision. */
export function Slip({ change, together, otherEnd, warning, left, top, threads, onClose }: Props) {
  const { info, me, may, nameOf } = useOpened();
  const { setLens } = useLooking();
  const { doc } = useDrawn();
  const decide = useDecide();
  const { before, after } = inSentence(doc, change);
  const [writing, setWriting] = useState(false);
  const name = nameOf(change.author);
  useCommands({ close: onClose });
  return (
    <Paper
      role="dialog"
      aria-label={`Change by ${name}`}
      elevation={0}
      className="slip"
      sx={{
        position: 'absolute',
        left,
        top,
        width: 470,
        zIndex: 10,
        p: 2,
        fontFamily: interfaceFont,
        fontSize: 13,
        lineHeight: 1.4,
        border: '1px solid',
        borderColor: 'divider',
        boxShadow: '0 8px 28px rgb(0 0 0 / 13%)',
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1.25 }}>
        <span className="dot" data-author={change.author} data-kind={change.kind} />
        <strong>{name}</strong>
        <Tooltip title={exactly(change.date)}>
          <Box component="span" sx={{ color: 'text.secondary', ml: 1, flex: 1 }}>
            {describeChange(change)} · {said(change.date)}
          </Box>
        </Tooltip>
        <IconButton size="small" aria-label="Close the slip" onClick={onClose} sx={{ fontSize: 15, my: -0.5 }}>
          ×
        </IconButton>
      </Box>
      <Sentence label="Before" side="before" pieces={before} change={change} />
      <Sentence label="After" side="after" pieces={after} change={change} />
      {otherEnd && (
        <Button color="inherit" onClick={otherEnd.go} sx={{ ml: '52px', px: 0.5, textDecoration: 'underline dashed' }}>
          {otherEnd.label}
        </Button>
      )}
      {warning && (
        <Box role="note" sx={{ ml: '58px', mt: 0.5, color: 'secondary.main' }}>
          {warning}
        </Box>
      )}
      <Box sx={{ display: 'flex', gap: 1, mt: 1.5, alignItems: 'center' }}>
        <Verdicts change={change} own={whoIs(info, change.author) === me.id} />
        <Box sx={{ flex: 1 }} />
        {may.remark && !writing && !threads.length && (
          <Button color="inherit" onClick={() => setWriting(true)} sx={{ color: 'text.secondary' }}>
            Comment
          </Button>
        )}
      </Box>
      {(threads.length > 0 || writing) && (
        <Box sx={{ mt: 1.5, pt: 1, borderTop: '1px solid', borderColor: 'divider' }}>
          <ChangeTalk change={change} threads={threads} writing={writing} onLeave={() => setWriting(false)} />
        </Box>
      )}
      {may.decide && together.length > 0 && (
        <Box sx={{ mt: 1.5, pt: 1, borderTop: '1px solid', borderColor: 'divider' }}>
          <TogetherRows
            groups={together}
            onDecide={decide}
            onAlike={() => setLens({ ...everything, alike: alikeKey(change) })}
          />
        </Box>
      )}
    </Paper>
  );
}

/** The decision; for those who may not decide, withdrawing what is theirs. */
function Verdicts({ change, own }: { change: Change; own: boolean }) {
  const { may, info } = useOpened();
  const decide = useDecide();
  const withdraws = !may.decide && own && may.withdraw;
  return (
    <>
      {may.decide && (
        <>
          <Tooltip title="The change becomes part of the text">
            <Button variant="contained" onClick={() => decide('accept', [change.id])}>
              Accept
            </Button>
          </Tooltip>
          <Tooltip title="The text stays as it was before">
            <Button variant="outlined" color="inherit" onClick={() => decide('reject', [change.id])}>
              Reject
            </Button>
          </Tooltip>
        </>
      )}
      {withdraws && (
        <Button variant="outlined" color="inherit" onClick={() => decide('reject', [change.id])}>
          Withdraw
        </Button>
      )}
      {!may.decide && !withdraws && (
        <span className="second">
          {info.seal
            ? 'Sealed: nothing is decided until the seal is lifted.'
            : 'Someone who may decide will accept or reject this.'}
        </span>
      )}
    </>
  );
}
