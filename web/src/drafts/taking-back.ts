import { counted } from '@tea-pencil/core';
import type { ActTakenBack } from '@tea-pencil/wire';
import { request } from '../api/client';

/** Takes an act on the whole text back. @returns what that came to, where it is other than as if it had not been */
export async function takeActBack(manuscript: string, act: string): Promise<string | null> {
  const { how, decided, changes } = await request<ActTakenBack>('POST', `/manuscripts/${manuscript}/acts/${act}/back`);
  if (how === 'withdrawn')
    return `${counted(decided, 'change')} of it ${decided === 1 ? 'has' : 'have'} been decided since and stay${decided === 1 ? 's' : ''} as decided; the others are withdrawn.`;
  if (how === 'recorded')
    return `You may not change this text unrecorded, so the way back is in pencil: ${counted(changes, 'change')} to be decided.`;
  return null;
}
