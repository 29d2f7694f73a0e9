import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useParams } from 'react-router';
import { request } from '../api/client';
import { keys } from '../api/keys';
import { Message } from '../kit/Message';

/** Where the link leads that is sent to an address somebody has named for mail. */
export default function Confirm() {
  const { token = '' } = useParams();
  const queries = useQueryClient();
  const { mutate, status, error } = useMutation({
    mutationFn: () => request('POST', '/me/mail', { token }),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.me }),
  });
  // A link holds once, and a page may be put up twice.
  const sent = useRef(false);
  useEffect(() => {
    if (!sent.current) mutate();
    sent.current = true;
  }, [mutate]);
  if (status === 'error') return <Message title="This address is not confirmed" text={error.message} home />;
  if (status === 'success')
    return <Message title="This is your address" text="Your mail comes there from now on." home />;
  return <Message title="One moment …" />;
}
