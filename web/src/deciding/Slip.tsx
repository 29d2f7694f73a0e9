import { Box, Button, IconButton, Paper, Tooltip } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { Node } from 'prosemirror-model';
import { describeChange, inSentence, type Change, type Piece, type Thread, type Verdict } from '@tea-pencil/core';
import { Pieces } from '../reviewing/Pieces';
import { ChangeTalk } from '../talk/ChangeTalk';
import { interfaceFont } from '../theme/theme';
import { exactly, said } from '../kit/time';
import { TogetherRows, type Group } from './TogetherRows';

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
      <Box className="serif" sx={{ fontSize: 15, lineHeight: 1.45 }} data-author={change.author}>
        <Pieces pieces={pieces} side={side} kind={change.kind} />
      </Box>
    </Box>
  );
}

interface Props {
  doc: Node;
  change: Change;
  name: string;
  mayDecide: boolean;
  own: boolean;
  mayRemark: boolean;
  left: number;
  top: number;
  /** Other changes that can be decided in the same act. */
  together: Group[];
  /** Where a moved passage stands otherwise, and where it came from or goes. */
  otherEnd: { label: string; go(): void } | null;
  /** What deciding would leave wrong with the spaces. */
  warning: string | null;
  onDecide(verdict: Verdict, ids?: string[]): void;
  /** Looks at those alike to it only. */
  onAlike(): void;
  /** What has been said about the change. */
  threads: readonly Thread[];
  onClose(): void;
}

/** The card under a change: before and after in its sentence, who, when, and the decision. */
export function Slip({
  doc,
  change,
  name,
  mayDecide,
  own,
  mayRemark,
  together,
  otherEnd,
  warning,
  left,
  top,
  threads,
  onDecide,
  onAlike,
  onClose,
}: Props) {
  const { before, after } = inSentence(doc, change);
  const card = useRef<HTMLDivElement>(null);
  const [writing, setWriting] = useState(false);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => event.key === 'Escape' && onClose();
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, [onClose]);
  return (
    <Paper
      ref={card}
      role="dialog"
      aria-label={`Change by ${name}`}
      elevation={0}
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
        {mayDecide && (
          <>
            <Tooltip title="The change becomes part of the text">
              <Button variant="contained" onClick={() => onDecide('accept')}>
                Accept
              </Button>
            </Tooltip>
            <Tooltip title="The text stays as it was before">
              <Button variant="outlined" color="inherit" onClick={() => onDecide('reject')}>
                Reject
              </Button>
            </Tooltip>
          </>
        )}
        {!mayDecide && own && (
          <Button variant="outlined" color="inherit" onClick={() => onDecide('reject')}>
            Withdraw
          </Button>
        )}
        {!mayDecide && !own && <span className="second">Someone who may decide will accept or reject this.</span>}
        <Box sx={{ flex: 1 }} />
        {mayRemark && !writing && !threads.length && (
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
      {mayDecide && together.length > 0 && (
        <Box sx={{ mt: 1.5, pt: 1, borderTop: '1px solid', borderColor: 'divider' }}>
          <TogetherRows groups={together} onDecide={onDecide} onAlike={onAlike} />
        </Box>
      )}
    </Paper>
  );
}
