import { keys } from '../api/keys';
import { Box, Button, LinearProgress, MenuItem, Select, Tooltip, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { remarkText } from '@tea-pencil/core';
import { request } from '../api/client';
import type { Notice, NoticeKind, NoticeWay, Post } from '@tea-pencil/wire';
import { useMe, usePost } from '../api/queries';
import { Message } from '../kit/Message';
import { useChoosing } from '../kit/use-choosing';
import { TopBar } from '../people/TopBar';
import { Portrait } from '../people/Portrait';
import { exactly, said } from '../kit/time';
import { textFont } from '../theme/theme';
import { Outbox } from './Outbox';

const kinds: [kind: NoticeKind, label: string][] = [
  ['query', 'Somebody asks me for an answer'],
  ['mention', 'Somebody mentions me'],
  ['reply', 'Somebody answers in a thread of mine'],
  ['decision', 'Somebody decides changes of mine'],
  ['invitation', 'Somebody shares a manuscript with me'],
  ['seal', 'A manuscript of mine is sealed, or its seal lifted'],
];
const ways: [way: NoticeWay, label: string][] = [
  ['mail', 'here and by mail'],
  ['post', 'here only'],
  ['nothing', 'not at all'],
];

function Row({ notice, nameOf, onRead }: { notice: Notice; nameOf(id: string): string; onRead(read: boolean): void }) {
  const { actor, at, read, comment, decided, manuscript, message } = notice;
  const words = comment
    ? remarkText(comment.body, nameOf)
    : (message ?? (decided?.words ?? []).map((one) => `“${one.trim()}”`).join(', '));
  return (
    <div role="listitem" className={`post-row${read ? ' read' : ''}`}>
      {read ? <span /> : <span className="post-unread" role="img" aria-label="Not read" />}
      <span className="portrait" style={{ margin: 0 }} aria-hidden>
        <Portrait person={actor} />
      </span>
      <div>
        <Link to={notice.path} className="post-place" onClick={() => onRead(true)}>
          {notice.says}
        </Link>
        {words && <div className="post-words">{words}</div>}
      </div>
      <div className="second">
        <div>{manuscript.title}</div>
        <Tooltip title={exactly(at)}>
          <span>{said(at)}</span>
        </Tooltip>
      </div>
      <button type="button" className="talk-act" onClick={() => onRead(!read)}>
        {read ? 'Mark unread' : 'Mark read'}
      </button>
    </div>
  );
}

type Sheet = 'notices' | 'choice' | 'outbox';

/** What others did that concerns one, which of it comes, and the mail that would have been sent. */
export default function PostPage() {
  const post = usePost();
  const me = useMe();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { enqueueSnackbar } = useSnackbar();
  const [sheet, setSheet] = useState<Sheet>('notices');
  useEffect(() => {
    document.title = 'Post · Tea Pencil';
  }, []);
  const act = async (path: string, body: object) => {
    try {
      await request('PATCH', path, body);
    } catch (problem) {
      enqueueSnackbar((problem as Error).message);
    }
    await queries.invalidateQueries({ queryKey: keys.post });
  };
  if (post.isError)
    return (
      <Message title="Your post cannot be shown" text={post.error.message} again={() => void post.refetch()} home />
    );
  const { notices = [], unread = 0, choice, names = {} } = post.data ?? {};
  const nameOf = (id: string) => names[id] ?? 'someone';
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <TopBar title="Post" post={false}>
        <Sheets sheet={sheet} onSheet={setSheet} />
      </TopBar>
      {sheet === 'outbox' ? (
        <Outbox />
      ) : (
        <Box
          component="main"
          sx={{ maxWidth: 980, width: '100%', mx: 'auto', p: '28px 20px', boxSizing: 'border-box' }}
        >
          <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2, mb: 2 }}>
            <Typography component="h1" sx={{ fontFamily: textFont, fontSize: 28, fontWeight: 600 }}>
              {sheet === 'notices' ? 'Post' : 'What comes to me'}
            </Typography>
            {sheet === 'notices' && post.data && (
              <>
                <Typography sx={{ color: 'text.secondary', flex: 1 }} data-testid="unread">
                  {unread ? `${unread} not read` : 'all read'}
                </Typography>
                <Button
                  color="inherit"
                  disabled={!unread}
                  sx={{ bgcolor: 'background.paper' }}
                  onClick={() => void act('/post', { read: true })}
                >
                  Mark all read
                </Button>
              </>
            )}
          </Box>
          {post.isPending && <LinearProgress aria-label="Your post is being fetched" />}
          {sheet === 'notices' && (
            <div role="list" aria-label="Notices">
              {notices.map((notice) => (
                <Row
                  key={notice.id}
                  notice={notice}
                  nameOf={nameOf}
                  onRead={(read) => void act('/post', { notices: [notice.id], read })}
                />
              ))}
            </div>
          )}
          {sheet === 'notices' && post.data && !notices.length && (
            <Typography sx={{ fontFamily: textFont, fontSize: 16 }}>
              Nothing has come yet. When somebody asks or mentions you, answers you, or decides changes of yours, it is
              listed here.{' '}
              <Button color="inherit" onClick={() => void navigate('/')}>
                To the desk
              </Button>
            </Typography>
          )}
          {sheet === 'choice' && choice && (
            <ChoiceOfNotices
              choice={choice}
              mail={me.data?.mail ?? null}
              onChoose={(next) => act('/post/kinds', next)}
            />
          )}
        </Box>
      )}
    </Box>
  );
}

/** What Post has besides what happened. */
function Sheets({ sheet, onSheet }: { sheet: Sheet; onSheet(sheet: Sheet): void }) {
  return (
    <nav aria-label="Of post" className="tabs post-tabs">
      {(
        [
          ['notices', 'What happened'],
          ['choice', 'What comes to me'],
          ['outbox', 'Outbox'],
        ] as const
      ).map(([name, label]) => (
        <button key={name} type="button" className="tab" aria-pressed={sheet === name} onClick={() => onSheet(name)}>
          {label}
        </button>
      ))}
    </nav>
  );
}

type Choice = Post['choice'];

/** Which notices come, and how. */
function ChoiceOfNotices({
  choice: kept,
  mail,
  onChoose,
}: {
  choice: Choice;
  mail: string | null;
  onChoose(part: Partial<Choice>): Promise<void>;
}) {
  const [choice, choose] = useChoosing(kept, onChoose);
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 320px) minmax(130px, 200px)',
        gap: '10px 20px',
        alignItems: 'center',
      }}
    >
      {kinds.map(([kind, label]) => [
        <span key={kind}>{label}</span>,
        <Select
          key={`${kind} way`}
          size="small"
          value={choice[kind]}
          inputProps={{ 'aria-label': label }}
          sx={{ fontSize: 13, bgcolor: 'background.paper' }}
          onChange={({ target }) => choose({ [kind]: target.value })}
        >
          {ways.map(([way, words]) => (
            <MenuItem key={way} value={way}>
              {words}
            </MenuItem>
          ))}
        </Select>,
      ])}
      <Box className="second" sx={{ gridColumn: '1 / 3', mt: 1 }}>
        Mail goes to {mail ?? 'nowhere: no address is set'}. It can be changed under your portrait, “Name and portrait”.
        Several things that happen together come as one mail.
      </Box>
    </Box>
  );
}
