import { Box, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { useOutbox } from '../api/queries';
import { Message } from '../kit/Message';
import { exactly, said } from '../kit/time';

/** The stand-in for mail: what would have been sent, as it would arrive. */
export function Outbox() {
  const outbox = useOutbox();
  const [chosen, setChosen] = useState<string | null>(null);
  const [plain, setPlain] = useState(false);
  if (outbox.isPending) return <LinearProgress aria-label="The outbox is being fetched" />;
  if (outbox.isError)
    return (
      <Message title="The outbox cannot be shown" text={outbox.error.message} again={() => void outbox.refetch()} />
    );
  const { mails, standsIn } = outbox.data;
  const mail = mails.find(({ id }) => id === chosen) ?? mails[0];
  return (
    <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column', p: '16px 24px' }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, mb: 1.5 }}>
        <Box component="h1" sx={{ fontSize: 15, fontWeight: 600, m: 0 }}>
          Outbox
        </Box>
        <span className="second">
          {standsIn
            ? 'No server for mail is set, so what would have been sent to you is kept here, as it would arrive.'
            : 'Mail is really sent; nothing is kept here.'}
        </span>
      </Box>
      {mail ? (
        <Box className="mails">
          <div className="mail-list" style={{ overflow: 'auto' }} role="group" aria-label="Mails">
            {mails.map(({ id, subject, at }) => (
              <button key={id} type="button" aria-pressed={id === mail.id} onClick={() => setChosen(id)}>
                {subject}
                <span className="second" style={{ display: 'block', fontWeight: 400 }} title={exactly(at)}>
                  {said(at)}
                </span>
              </button>
            ))}
          </div>
          <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0 }}>
            <Box sx={{ display: 'flex', alignItems: 'flex-end', mb: 1 }}>
              <Box sx={{ flex: 1 }}>
                <Box sx={{ fontWeight: 600 }}>{mail.subject}</Box>
                <span className="second">To {mail.recipient}</span>
              </Box>
              <div role="group" aria-label="How the mail is shown" className="tabs" style={{ height: 28 }}>
                {([false, true] as const).map((words) => (
                  <button
                    key={String(words)}
                    type="button"
                    className="tab"
                    aria-pressed={plain === words}
                    onClick={() => setPlain(words)}
                  >
                    {words ? 'plain' : 'HTML'}
                  </button>
                ))}
              </div>
            </Box>
            {plain ? (
              <Box
                component="pre"
                tabIndex={0}
                aria-label="The mail, plain"
                sx={{
                  flex: 1,
                  m: 0,
                  p: 3,
                  overflow: 'auto',
                  whiteSpace: 'pre-wrap',
                  bgcolor: 'background.paper',
                  border: '1px solid',
                  borderColor: 'divider',
                  fontSize: 13,
                }}
              >
                {mail.plain}
              </Box>
            ) : (
              <iframe
                className="mail-frame"
                title={`The mail “${mail.subject}”`}
                sandbox="allow-popups"
                src={`/api/outbox/${mail.id}/html`}
                style={{ flex: 1 }}
              />
            )}
          </Box>
        </Box>
      ) : (
        <span className="second">
          Nothing would have been sent to you yet. Mail goes out a while after something happened, so that a burst is
          one mail, and not at all for what you have read here meanwhile.
        </span>
      )}
    </Box>
  );
}
