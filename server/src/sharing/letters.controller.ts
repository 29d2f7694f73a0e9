import { Controller, HttpCode, HttpException, Post, Req } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import Joi from 'joi';
import type { InvitationTold, LinkTold } from '@tea-pencil/wire';
import { Describes, mailSchema, secretSchema, ValidBody } from '../http/validation.js';
import { AccountsService } from '../people/accounts.service.js';
import { ComingIn } from '../people/coming-in.js';
import { HouseFacts } from '../people/house-facts.js';
import { knownAlready } from '../people/letters.js';
import { Sessions } from '../people/sessions.service.js';
import { Me } from '../policy/guard.js';
import { Mailer } from '../post/mailer.js';
import { Limits } from '../running/limits.js';
import { Settings } from '../settings/settings.js';
import { InvitationsService, type Comer } from './invitations.service.js';
import { LinksService } from './links.service.js';

const token = Joi.string().min(1).max(100).required();
const toldSchema = Joi.object({ token });
const name = Joi.string().trim().strict(false).min(1).max(100);
const acceptSchema = Joi.object({ token, name, password: secretSchema.optional() }).and('name', 'password');
const enterSchema = Joi.object({
  token,
  name: name.required(),
  passphrase: Joi.string().max(1000).allow(null).required(),
});
const comeInSchema = Joi.object({ mail: mailSchema.required() });

/** What letters and links lead to, for people who need not be known here yet. */
@ApiTags('sharing')
@Controller('api')
export class LettersController {
  constructor(
    private readonly invitations: InvitationsService,
    private readonly links: LinksService,
    private readonly sessions: Sessions,
    private readonly comingIn: ComingIn,
    private readonly accounts: AccountsService,
    private readonly facts: HouseFacts,
    private readonly mailer: Mailer,
    private readonly limits: Limits,
    private readonly settings: Settings,
  ) {}

  @Post('invitations/told')
  @HttpCode(200)
  @Describes(toldSchema)
  async invitation(
    @ValidBody(toldSchema) { token: given }: { token: string },
    @Req() request: Request,
  ): Promise<InvitationTold> {
    await this.comingIn.fewTries(request);
    return this.invitations.told(given);
  }

  @Post('invitations/accepted')
  @HttpCode(200)
  @Describes(acceptSchema)
  async accept(
    @Me() me: string | undefined,
    @ValidBody(acceptSchema) { token: given, ...comer }: { token: string } & Partial<Comer>,
    @Req() request: Request,
  ): Promise<{ manuscript: string | null }> {
    await this.comingIn.fewTries(request);
    const asked = comer.name === undefined ? null : { name: comer.name, password: comer.password ?? null };
    const { person, manuscript } = await this.invitations.accept(given, me, asked);
    if (person !== me) await this.sessions.begin(person, request);
    return { manuscript };
  }

  @Post('links/told')
  @HttpCode(200)
  @Describes(toldSchema)
  async link(@ValidBody(toldSchema) { token: given }: { token: string }, @Req() request: Request): Promise<LinkTold> {
    await this.comingIn.fewTries(request);
    return this.links.told(given);
  }

  @Post('links/entered')
  @HttpCode(200)
  @Describes(enterSchema)
  async enter(
    @ValidBody(enterSchema) { token: given, ...guest }: { token: string; name: string; passphrase: string | null },
    @Req() request: Request,
  ): Promise<{ manuscript: string }> {
    const { person, manuscript } = await this.links.enter(given, guest, request.ip ?? '');
    await this.sessions.begin(person, request);
    return { manuscript };
  }

  /** Whoever has an address of a domain of the house gets a letter that lets them in; the answer is always the same. */
  @Post('come-in')
  @HttpCode(204)
  @Describes(comeInSchema)
  async comeIn(@ValidBody(comeInSchema) { mail }: { mail: string }, @Req() request: Request): Promise<void> {
    await this.comingIn.fewTries(request);
    if (!(await this.limits.mayAskFor(request.ip ?? '', mail)))
      throw new HttpException('Too many letters were asked for. Please try again in an hour.', 429);
    void this.#letterTo(mail).catch(() => undefined); // not written just now; they can ask again
  }

  async #letterTo(mail: string): Promise<void> {
    if (!(await this.facts.mayComeIn(mail))) return;
    const known = await this.accounts.find(mail);
    if (!known) return this.invitations.write({ mail, rights: null, message: '' }, null, null);
    const letter = knownAlready(known.name, `${this.settings.home}/sign-in`);
    await this.mailer.write({ name: known.name, mail }, letter, [known.id]);
  }
}
