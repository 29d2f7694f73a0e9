import { HttpException, Injectable, NotFoundException } from '@nestjs/common';
import type { Request } from 'express';
import type { Self } from '@tea-pencil/wire';
import { Limits } from '../running/limits.js';
import { PeopleService } from './people.service.js';
import { Sessions } from './sessions.service.js';

/** What every way into the house has in common. */
@Injectable()
export class ComingIn {
  constructor(
    private readonly people: PeopleService,
    private readonly sessions: Sessions,
    private readonly limits: Limits,
  ) {}

  /** Each look at what a link or a letter holds is counted: nobody finds one by trying. */
  async fewTries({ ip }: Request): Promise<void> {
    if (!(await this.limits.mayLook(ip ?? '')))
      throw new HttpException('Too many tries came from here. Please wait a minute.', 429);
  }

  /** Signs somebody in. @returns who they are */
  async begin(id: string, request: Request): Promise<Self> {
    await this.sessions.begin(id, request);
    const self = await this.people.self(id);
    if (!self) throw new NotFoundException('There is no such person here any more.');
    return self;
  }
}
