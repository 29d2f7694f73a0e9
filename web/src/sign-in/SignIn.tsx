import { Alert, Box, Button, Divider, TextField, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import { request } from '../api/client';
import type { Account, Self } from '@tea-pencil/wire';
import { meQuery, useDemoPeople } from '../api/queries';
import { Pencil } from '../kit/Pencil';
import { hueOf } from '../theme/hues';
import { useMode } from '../theme/mode';
import { textFont } from '../theme/theme';

interface Fields {
  login: string;
  password: string;
}

export function SignIn() {
  const { register, handleSubmit, formState, setFocus } = useForm<Fields>();
  const [problem, setProblem] = useState<string | null>(null);
  const [parameters] = useSearchParams();
  const demo = useDemoPeople();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const { mode } = useMode();

  const enter = async (path: string, body: object) => {
    setProblem(null);
    try {
      const account = await request<Self>('POST', path, body);
      queries.clear();
      queries.setQueryData(meQuery.queryKey, account);
      const to = parameters.get('to') ?? '/';
      void navigate(/^\/(?!\/)/.test(to) ? to : '/', { replace: true });
    } catch (wrong) {
      setProblem((wrong as Error).message);
      setFocus('password');
    }
  };

  return (
    <Box component="main" sx={{ minHeight: '100%', display: 'grid', placeItems: 'center', p: 3 }}>
      <Box sx={{ width: 760, maxWidth: '100%', display: 'flex', flexWrap: 'wrap', gap: 6 }}>
        <Box
          component="form"
          noValidate
          sx={{ flex: '1 1 280px' }}
          onSubmit={(event) => void handleSubmit((fields) => enter('/sign-in', fields))(event)}
        >
          <Pencil size={34} />
          <Typography component="h1" sx={{ fontFamily: textFont, fontSize: 30, fontWeight: 600, mt: 1 }}>
            Tea Pencil
          </Typography>
          <Typography sx={{ color: 'text.secondary', mb: 3 }}>
            One text, several hands, and nothing changed behind anyone’s back.
          </Typography>
          {problem && (
            <Alert severity="warning" variant="outlined" icon={false} sx={{ mb: 2, color: 'text.primary' }}>
              {problem}
            </Alert>
          )}
          <TextField
            label="Name to sign in with"
            fullWidth
            size="small"
            autoComplete="username"
            error={!!formState.errors.login}
            helperText={formState.errors.login?.message}
            sx={{ mb: 2, bgcolor: 'background.paper' }}
            {...register('login', { required: 'Please give your name.' })}
          />
          <TextField
            label="Password"
            type="password"
            fullWidth
            size="small"
            autoComplete="current-password"
            error={!!formState.errors.password}
            helperText={formState.errors.password?.message}
            sx={{ mb: 2, bgcolor: 'background.paper' }}
            {...register('password', { required: 'Please give your password.' })}
          />
          <Button type="submit" variant="contained" disabled={formState.isSubmitting}>
            Sign in
          </Button>
        </Box>
        {!!demo.data?.length && (
          <Box sx={{ flex: '1 1 300px' }} component="section" aria-labelledby="demo-heading">
            <Typography id="demo-heading" component="h2" sx={{ fontWeight: 600, fontSize: 15, mt: 1 }}>
              Or come in as someone of the demo
            </Typography>
            <Typography variant="body2" sx={{ color: 'text.secondary', mb: 1.5 }}>
              A small press prepares <i className="serif">Between Two Tides</i>. Open a second browser to be two people
              at once.
            </Typography>
            <Divider />
            {order(demo.data).map((person, i) => (
              <Button
                key={person.id}
                fullWidth
                onClick={() => void enter('/sign-in/demo', { person: person.id })}
                sx={{
                  justifyContent: 'flex-start',
                  py: 1.1,
                  borderBottom: '1px solid',
                  borderColor: 'divider',
                  borderRadius: 0,
                  color: 'text.primary',
                  gap: 1,
                }}
              >
                <span className="dot" style={{ background: hueOf(i, mode).line }} />
                {person.name}
                <Box component="span" sx={{ color: 'text.secondary', fontWeight: 400 }}>
                  {person.note}
                </Box>
              </Button>
            ))}
          </Box>
        )}
      </Box>
    </Box>
  );
}

const logins = ['ines', 'tobias', 'maren', 'harbour', 'alba'];
const order = (people: Account[]) =>
  [...people].sort((a, b) => logins.indexOf(a.login ?? '') - logins.indexOf(b.login ?? ''));
