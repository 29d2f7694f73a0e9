import { nanoid } from 'nanoid';
import type { DraftReason } from '@tea-pencil/wire';
import type { EntityManager } from 'typeorm';

/** A state of a text that is kept. */
export interface KeptDraft {
  manuscriptId: string;
  version: number;
  reason: DraftReason;
  /** What it was kept before, as the end of a sentence. */
  before?: string;
  name?: string;
  note?: string;
  /** Who keeps it; nobody where it keeps itself. */
  by?: string;
}

type Asked = Pick<EntityManager, 'query'>;

/** Keeps a draft. One that nobody has asked for is kept only where that version is not kept already. */
export async function keepDraft(within: Asked, draft: KeptDraft): Promise<string> {
  const { manuscriptId, version, reason, before = null, name = null, note = '', by = null } = draft;
  const id = nanoid(12);
  await within.query(
    `INSERT INTO drafts (id, manuscript_id, version, reason, before, name, kept_by, note)
     SELECT $1, $2, $3, $4, $5, $6, $7, $8
     WHERE $4 IN ('hand', 'fair copy') OR NOT EXISTS (SELECT 1 FROM drafts WHERE manuscript_id = $2 AND version = $3 AND gone_at IS NULL)`,
    [id, manuscriptId, version, reason, before, name, by, note],
  );
  return id;
}
