import { BadRequestException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { nanoid } from 'nanoid';
import { Any, Repository } from 'typeorm';
import type { Asset } from '@tea-pencil/core';
import type { AddedPicture } from '@tea-pencil/wire';
import { AssetRow } from '../database/entities.js';
import { Memberships } from '../policy/memberships.js';
import { readInTurn } from '../work/reading-pictures.js';
import { Limits } from '../running/limits.js';

/** The pictures of manuscripts. A picture belongs to one manuscript and is seen by its members only. */
@Injectable()
export class PicturesService {
  constructor(
    @InjectRepository(AssetRow) private readonly assets: Repository<AssetRow>,
    private readonly memberships: Memberships,
    private readonly limits: Limits,
  ) {}

  /** Keeps a picture for a manuscript. */
  async add(manuscriptId: string, addedBy: string, name: string, bytes: Buffer): Promise<AddedPicture> {
    const file = await readInTurn(addedBy, bytes);
    if (typeof file === 'string') throw new BadRequestException(`“${name}” ${file}. Nothing was changed.`);
    const id = nanoid(16);
    await this.#keep({ id, manuscriptId, type: file.type, bytes: file.bytes, addedBy });
    return { asset: id, width: file.width, height: file.height };
  }

  #keep(row: Pick<AssetRow, 'id' | 'manuscriptId' | 'type' | 'bytes' | 'addedBy'>): Promise<unknown> {
    const { manuscriptId, addedBy: personId } = row;
    return this.memberships.write({ manuscriptId, personId: personId! }, 'add pictures', (manager) =>
      manager.insert(AssetRow, row),
    );
  }

  /** A picture, for a member of its manuscript; for anyone else there is none. */
  async get(id: string, personId: string): Promise<AssetRow> {
    const asset = await this.assets.findOneBy({ id });
    const member = asset && (await this.memberships.of(asset.manuscriptId, personId));
    if (!asset || !member) throw new NotFoundException('There is no such picture, or you may not see it.');
    return asset;
  }

  /** Takes a picture over from another manuscript that the person may read too: a passage was copied from there. */
  async copy(id: string, manuscriptId: string, personId: string): Promise<{ asset: string }> {
    const asset = await this.get(id, personId);
    if (asset.manuscriptId === manuscriptId) return { asset: id };
    const copied = nanoid(16);
    await this.#keep({ ...asset, id: copied, manuscriptId, addedBy: personId });
    this.limits.bring(personId, asset.bytes.length);
    return { asset: copied };
  }

  /** Those of the named pictures that belong to a manuscript. */
  async ofManuscript(manuscriptId: string, ids: readonly string[]): Promise<Asset[]> {
    const rows = await this.assets.findBy({ manuscriptId, id: Any([...ids]) });
    return rows.map(({ id, type, bytes }) => ({ id, type, bytes }));
  }
}
