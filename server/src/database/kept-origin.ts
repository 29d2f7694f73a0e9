import { deflateSync, inflateSync } from 'node:zlib';
import type { FormatName, Origin } from '@tea-pencil/core';

/** The file a manuscript came from, as the database keeps it. */
export interface KeptOrigin {
  format: FormatName;
  file: Uint8Array;
  /** All but the file, as JSON, deflated. */
  known: Uint8Array;
}

export function keptOrigin({ format, file, ...known }: Origin): KeptOrigin {
  return { format, file, known: deflateSync(JSON.stringify(known)) };
}

export const originOf = ({ format, file, known }: KeptOrigin): Origin =>
  ({ ...(JSON.parse(inflateSync(known).toString()) as object), format, file }) as Origin;
