import {
  BadRequestException,
  Controller,
  Delete,
  ForbiddenException,
  Get,
  HttpCode,
  HttpException,
  NotFoundException,
  Patch,
  Post,
  Put,
  Req,
  Res,
  UnauthorizedException,
  UploadedFile,
  UseFilters,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import Joi from 'joi';
import type { Account, DemoPerson, Self, SessionOf } from '@tea-pencil/wire';
import { FewUploads, nameOf, noteName, TooLarge, type Upload } from '../http/upload.js';
import { Describes, idSchema, mailSchema, secretSchema, ValidBody, ValidId } from '../http/validation.js';
import { Broadcasting } from '../live/broadcasting.js';
import { Me } from '../policy/guard.js';
import { Limits } from '../running/limits.js';
import { AccountsService } from './accounts.service.js';
import { ComingIn } from './coming-in.js';
import { ConfirmingService } from './confirming.service.js';
import { PeopleService } from './people.service.js';
import { Sessions } from './sessions.service.js';

const signInSchema = Joi.object({
  login: Joi.string().min(1).max(200).required(),
  password: Joi.string().min(1).max(1000).required(),
});
const selfSchema = Joi.object({
  name: Joi.string().trim().strict(false).min(1).max(100),
  initials: Joi.string().trim().strict(false).min(1).max(3),
  note: Joi.string().trim().strict(false).allow('').max(100),
  mail: mailSchema.allow(null),
}).min(1);
/** The largest file that is taken as a portrait, in bytes. */
const largestPortrait = 2 * 1024 * 1024;
const confirmSchema = Joi.object({ token: Joi.string().min(1).max(100).required() });
const demoSchema = Joi.object({ person: idSchema.required() });
const passwordSchema = Joi.object({ old: Joi.string().allow('').max(1000).required(), fresh: secretSchema });

/** Oneself: coming in and going out, and what others see of one. */
@ApiTags('people')
@Controller('api')
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly accounts: AccountsService,
    private readonly sessions: Sessions,
    private readonly comingIn: ComingIn,
    private readonly confirming: ConfirmingService,
    private readonly live: Broadcasting,
    private readonly limits: Limits,
  ) {}

  @Post('sign-in')
  @HttpCode(200)
  @Describes(signInSchema)
  async signIn(
    @ValidBody(signInSchema) body: { login: string; password: string },
    @Req() request: Request,
  ): Promise<Self> {
    if (!(await this.limits.maySignIn(request.ip ?? '')))
      throw new HttpException('Too many tries to sign in came from here. Please wait a minute.', 429);
    const id = await this.accounts.signIn(body.login, body.password);
    if (!id)
      throw new UnauthorizedException('This name and password do not belong together. Nothing else has changed.');
    return this.comingIn.begin(id, request);
  }

  @Post('sign-in/demo')
  @HttpCode(200)
  @Describes(demoSchema)
  async signInAsDemo(@ValidBody(demoSchema) { person }: { person: string }, @Req() request: Request): Promise<Self> {
    if (!(await this.people.hasDemo())) throw new ForbiddenException('The demo people are not here.');
    const found = (await this.people.demoPeople()).find(({ id }) => id === person);
    if (!found) throw new NotFoundException('There is no such demo person.');
    return this.comingIn.begin(found.id, request);
  }

  @Get('demo-people')
  demoPeople(): Promise<DemoPerson[]> {
    return this.people.demoPeople();
  }

  @Post('sign-out')
  @HttpCode(204)
  signOut(@Req() request: Request): Promise<void> {
    return this.sessions.end(request);
  }

  /** Who one is; null for one who is not signed in. */
  @Get('me')
  async me(@Me() id: string | undefined): Promise<{ me: Self | null }> {
    return { me: id ? await this.people.self(id) : null };
  }

  @Patch('me')
  @HttpCode(204)
  @Describes(selfSchema)
  async change(
    @Me() id: string,
    @ValidBody(selfSchema) body: { name?: string; initials?: string; note?: string; mail?: string | null },
  ): Promise<void> {
    const { mail, note, ...names } = body;
    const self = await this.people.self(id);
    if (self?.guest && (mail !== undefined || note !== undefined))
      throw new ForbiddenException('A guest has a name here, and nothing else.');
    const said = { ...names, ...(note !== undefined && { note }) };
    if (Object.keys(said).length) await this.people.change(id, said);
    if (self && mail !== undefined)
      await this.confirming.ask({ ...self, ...(names.name && { name: names.name }) }, mail);
    await this.#tellOf(id);
  }

  /** Confirms an address with what the letter to it held. */
  @Post('me/mail')
  @HttpCode(204)
  @Describes(confirmSchema)
  confirm(@Me() id: string, @ValidBody(confirmSchema) { token }: { token: string }): Promise<void> {
    return this.confirming.confirm(id, token);
  }

  /** Changes the password; whoever is signed in elsewhere as the same person is so no more. */
  @Put('me/password')
  @HttpCode(204)
  @Describes(passwordSchema)
  async setPassword(
    @Me() id: string,
    @ValidBody(passwordSchema) { old, fresh }: { old: string; fresh: string },
    @Req() request: Request,
  ): Promise<void> {
    await this.accounts.setPassword(id, old, fresh);
    // Who has got hold of the old session has nothing of the new one.
    await this.sessions.begin(id, request);
    await this.sessions.endAll(id, request.sessionID);
  }

  /** Where one is signed in. */
  @Get('me/sessions')
  listSessions(@Me() id: string, @Req() { sessionID }: Request): Promise<SessionOf[]> {
    return this.sessions.list(id, sessionID);
  }

  @Delete('me/sessions/:session')
  @HttpCode(204)
  endSession(@Me() id: string, @ValidId('session') session: string): Promise<void> {
    return this.sessions.endOne(id, session);
  }

  @Put('me/portrait')
  @HttpCode(204)
  @ApiConsumes('multipart/form-data')
  @ApiBody({ schema: { type: 'object', properties: { file: { type: 'string', format: 'binary' } } } })
  @UseInterceptors(
    FewUploads,
    FileInterceptor('file', { limits: { fileSize: largestPortrait, files: 1 }, fileFilter: noteName }),
  )
  @UseFilters(new TooLarge('2 MB', 'Your portrait is as it was.'))
  async setPortrait(@Me() me: string, @UploadedFile() file: Upload | undefined): Promise<void> {
    if (!file) throw new BadRequestException('No file came with this request.');
    await this.people.setPortrait(me, nameOf(file), file.buffer);
    await this.#tellOf(me);
  }

  @Delete('me/portrait')
  @HttpCode(204)
  async removePortrait(@Me() me: string): Promise<void> {
    await this.people.removePortrait(me);
    await this.#tellOf(me);
  }

  /** The picture, so served that it can be nothing else. */
  @Get('people/:person/portrait')
  async portrait(@ValidId('person') id: string, @Me() me: string, @Res() response: Response): Promise<void> {
    const { type, bytes } = await this.people.portrait(id, me);
    response.set({
      'Content-Type': type,
      'Content-Security-Policy': "default-src 'none'; sandbox",
      'X-Content-Type-Options': 'nosniff',
      'Cache-Control': 'private, max-age=86400',
    });
    response.send(bytes);
  }

  /** Everyone who sees this person somewhere hears that they look different. */
  async #tellOf(person: string): Promise<void> {
    for (const manuscript of await this.people.manuscriptsOf(person)) this.live.changed(manuscript, 'people');
  }

  /** Those one has a manuscript with. */
  @Get('people')
  known(@Me() me: string): Promise<Account[]> {
    return this.people.knownTo(me);
  }
}
