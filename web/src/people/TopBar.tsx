import { Box } from '@mui/material';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useMe } from '../api/queries';
import { Pencil } from '../kit/Pencil';
import { PostLink } from '../kit/PostLink';
import { MyMenu } from './MyMenu';

interface Props {
  title: string;
  /** Whether it leads back to the desk. */
  home?: boolean;
  /** Whether it leads to Post. */
  post?: boolean;
  children?: ReactNode;
}

/** The bar above a page that is about no manuscript. */
export function TopBar({ title, home = true, post = true, children }: Props) {
  const me = useMe();
  return (
    <header className="bar">
      {home ? (
        <Link to="/" className="bar-home">
          <Pencil />
          Desk
        </Link>
      ) : (
        <Pencil />
      )}
      <strong style={{ fontSize: 15 }}>{title}</strong>
      {children}
      <Box sx={{ flex: 1 }} />
      {post && <PostLink />}
      {me.data && <MyMenu me={me.data} />}
    </header>
  );
}
