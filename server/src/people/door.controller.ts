import { Controller, Get, HttpCode, Post, Req } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import Joi from 'joi';
import type { Door, Self } from '@tea-pencil/wire';
import { Describes, mailSchema, secretSchema, ValidBody } from '../http/validation.js';
import { Settings } from '../settings/settings.js';
import { AccountsService } from './accounts.service.js';
import { ComingIn } from './coming-in.js';
import { HouseFacts } from './house-facts.js';
import { Sessions } from './sessions.service.js';

const beginSchema = Joi.object({
  name: Joi.string().trim().strict(false).min(1).max(100).required(),
  mail: mailSchema.required(),
  password: secretSchema,
});
const forgottenSchema = Joi.object({ mail: Joi.string().min(1).max(200).required() });
const resetSchema = Joi.object({ token: Joi.string().min(1).max(100).required(), password: secretSchema });

/** What one can do before one is in the house. */
@ApiTags('people')
@Controller('api')
export class DoorController {
  constructor(
    private readonly accounts: AccountsService,
    private readonly sessions: Sessions,
    private readonly facts: HouseFacts,
    private readonly comingIn: ComingIn,
    private readonly settings: Settings,
  ) {}

  @Get('door')
  async door(): Promise<Door> {
    const begun = await this.accounts.begun();
    return { begun, bySelf: (await this.facts.domains()).length > 0, work: this.settings.work?.name ?? null };
  }

  /** The first person of an empty house. */
  @Post('begin')
  @Describes(beginSchema)
  async begin(
    @ValidBody(beginSchema) { name, mail, password }: { name: string; mail: string; password: string },
    @Req() request: Request,
  ): Promise<Self> {
    await this.comingIn.fewTries(request);
    return this.comingIn.begin(await this.accounts.begin(name, mail, password), request);
  }

  /** Asks for a letter by which a password can be set anew; says the same whether there is such an account or not. */
  @Post('password/forgotten')
  @HttpCode(204)
  @Describes(forgottenSchema)
  forgotten(@ValidBody(forgottenSchema) { mail }: { mail: string }, @Req() { ip }: Request): Promise<void> {
    return this.accounts.forgotten(mail, ip ?? '');
  }

  @Post('password/reset')
  @HttpCode(200)
  @Describes(resetSchema)
  async reset(
    @ValidBody(resetSchema) { token, password }: { token: string; password: string },
    @Req() request: Request,
  ): Promise<Self> {
    await this.comingIn.fewTries(request);
    const id = await this.accounts.reset(token, password);
    await this.sessions.endAll(id);
    return this.comingIn.begin(id, request);
  }
}
