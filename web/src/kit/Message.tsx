import { Box, Button, Typography } from '@mui/material';
import { Link } from 'react-router';
import { textFont } from '../theme/theme';

/** A screen that only says something: what happened, what is safe, what to do. */
export function Message({
  title,
  text,
  again,
  home,
}: {
  title: string;
  text?: string;
  again?: () => void;
  home?: boolean;
}) {
  return (
    <Box component="main" sx={{ maxWidth: 520, mx: 'auto', mt: '18vh', px: 3 }}>
      <Typography component="h1" sx={{ fontFamily: textFont, fontSize: 26, fontWeight: 600, mb: 1 }}>
        {title}
      </Typography>
      {text && <Typography sx={{ color: 'text.secondary', mb: 3 }}>{text}</Typography>}
      {again && (
        <Button variant="contained" onClick={again} sx={{ mr: 1 }}>
          Try again
        </Button>
      )}
      {home && (
        <Button variant="outlined" component={Link} to="/">
          To the desk
        </Button>
      )}
    </Box>
  );
}
