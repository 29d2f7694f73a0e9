import { useMutation, useQueryClient, type QueryKey } from '@tanstack/react-query';
import { useSnackbar } from 'notistack';
import { useCallback } from 'react';
import { request, requestOnce, type Refused } from './client';

interface Asked {
  method: 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  path: string;
  /** Of what is made under an id that the window has given it, with that id. */
  body?: object | undefined;
  /** What is done as soon as it is kept, before what has changed is fetched again. */
  then?: (() => void) | undefined;
}

const isOwn = (method: string, body: object | undefined): body is { id: string } =>
  method === 'POST' && body !== undefined && 'id' in body;

/**
 * Asks the server to change something, and fetches again what that changes. What is refused is said and thrown on.
 * @param changed under which key what it changes is kept
 */
export function useAsking(changed: QueryKey) {
  const queries = useQueryClient();
  const { enqueueSnackbar } = useSnackbar();
  const { mutateAsync } = useMutation<unknown, Refused | Error, Asked>({
    mutationFn: ({ method, path, body }) =>
      isOwn(method, body) ? requestOnce(path, body) : request(method, path, body),
    onSuccess: (_, { then }) => {
      then?.();
      return queries.invalidateQueries({ queryKey: changed });
    },
    onError: ({ message }) => void enqueueSnackbar(message),
  });
  return useCallback(
    <T = void>(method: Asked['method'], path: string, body?: object, then?: () => void) =>
      mutateAsync({ method, path, body, then }) as Promise<T>,
    [mutateAsync],
  );
}

/** The same where nobody needs to know why it was refused once that is said. @returns whether it was done */
export function useTrying(changed: QueryKey) {
  const ask = useAsking(changed);
  return useCallback(
    (...asked: Parameters<typeof ask>): Promise<boolean> =>
      ask(...asked).then(
        () => true,
        () => false,
      ),
    [ask],
  );
}
