import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { request } from '../api/client';

/** Comes in by something that is sent: whoever was in before is so no more, and nothing of theirs is kept here. */
export function useEntering() {
  const [problem, setProblem] = useState<string | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  /** @param to where one goes then, by what the server answers */
  const enter = async <T>(path: string, body: object, to: (answer: T) => string): Promise<boolean> => {
    setProblem(null);
    try {
      const answer = await request<T>('POST', path, body);
      queries.clear();
      void navigate(to(answer), { replace: true });
      return true;
    } catch (wrong) {
      setProblem((wrong as Error).message);
      return false;
    }
  };
  return { problem, setProblem, enter };
}

/** An address within these pages, and no other. */
export const within = (to: string | null): string => (to && /^\/(?![/\\])/.test(to) ? to : '/');
