import { Tooltip } from '@mui/material';
import { Link } from 'react-router';
import { usePost } from '../api/queries';

/** The way to Post, with how much in it has not been read. */
export function PostLink() {
  const unread = usePost().data?.unread ?? 0;
  return (
    <Tooltip title="What others did that concerns you">
      <Link to="/post" className="tab post-link" aria-label={unread ? `Post, ${unread} not read` : 'Post'}>
        Post
        {unread > 0 && <span className="post-count">{unread}</span>}
      </Link>
    </Tooltip>
  );
}
