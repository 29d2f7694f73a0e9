import { Controller, Get, HttpException, NotFoundException, Query, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { Limits } from '../running/limits.js';
import { Settings } from '../settings/settings.js';
import { Sessions } from './sessions.service.js';
import { WorkAccounts } from './work-accounts.service.js';

/** An address within these pages, and no other. */
const within = (to: unknown): string =>
  typeof to === 'string' && /^\/(?![/\\])[^\s]*$/.test(to) ? to.slice(0, 500) : '/';

/** Signing in with a work account: there, and back again. */
@ApiTags('people')
@Controller('api/sign-in/work')
export class WorkController {
  constructor(
    private readonly work: WorkAccounts,
    private readonly sessions: Sessions,
    private readonly limits: Limits,
    private readonly settings: Settings,
  ) {}

  @Get()
  async begin(@Query('to') to: unknown, @Req() request: Request, @Res() response: Response): Promise<void> {
    await this.#allow(request);
    const begun = await this.work.begin();
    if (!begun) return response.redirect(303, '/sign-in?work=away');
    request.session.work = { ...begun.begun, to: within(to) };
    await new Promise<void>((done, fail) => request.session.save((e: unknown) => (e ? fail(e as Error) : done())));
    response.redirect(303, begun.address);
  }

  @Get('back')
  async back(@Req() request: Request, @Res() response: Response): Promise<void> {
    await this.#allow(request);
    const { work } = request.session;
    // What one has begun holds once, in the browser in which one has begun it.
    delete request.session.work;
    if (!work) return response.redirect(303, '/sign-in?work=refused');
    const found = await this.work.finish(request.originalUrl.slice(request.path.length), work);
    if ('not' in found) return response.redirect(303, `/sign-in?work=${found.not}`);
    await this.sessions.begin(found.person, request);
    response.redirect(303, within(work.to));
  }

  async #allow({ ip }: Request): Promise<void> {
    if (!this.settings.work) throw new NotFoundException('This house has no work accounts.');
    if (!(await this.limits.mayLook(ip ?? '')))
      throw new HttpException('Too many tries to sign in came from here. Please wait a minute.', 429);
  }
}
