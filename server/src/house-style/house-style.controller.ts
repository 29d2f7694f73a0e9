import { Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import { isLanguage, ruleKinds, styleLimits, type HouseStyle } from '@tea-pencil/core';
import type { RulesRead, StyleLine, StyleToKeep, StyleVersion, StyleWhole } from '@tea-pencil/wire';
import { Describes, idSchema, JoiPipe, ValidBody, ValidId, lineText } from '../http/validation.js';
import { Me, Member } from '../policy/guard.js';
import type { Member as Membership } from '../policy/may.js';
import { HouseStyleService } from './house-style.service.js';

const text = Joi.string().allow('').max(styleLimits.text).required();
const ruleSchema = Joi.object({
  kind: Joi.string()
    .valid(...ruleKinds)
    .required(),
  write: Joi.string().allow('').max(styleLimits.words).required(),
  not: Joi.array().items(Joi.string().max(styleLimits.words)).max(styleLimits.not).required(),
  example: text,
  note: text,
  source: text,
});
const style = {
  name: lineText.min(1).max(120).required(),
  language: Joi.string()
    .max(40)
    .custom((value: string, { error }) => (isLanguage(value) ? value : error('any.invalid')))
    .required(),
  rules: Joi.array().items(ruleSchema).max(styleLimits.rules).required(),
};
const styleSchema = Joi.object(style);
const changedSchema = Joi.object({ ...style, since: Joi.number().integer().min(1).max(1_000_000).required() });
const fileSchema = Joi.object({ text: Joi.string().max(400_000).required() });
const followSchema = Joi.object({ style: idSchema.allow(null).required() });
const versionPipe = new JoiPipe(Joi.string().pattern(/^\d{1,7}$/));

@ApiTags('house style')
@Controller('api')
export class HouseStyleController {
  constructor(private readonly styles: HouseStyleService) {}

  @Get('styles')
  list(@Me() me: string): Promise<StyleLine[]> {
    return this.styles.list(me);
  }

  @Post('styles')
  @Describes(styleSchema)
  make(@Me() me: string, @ValidBody(styleSchema) style: HouseStyle): Promise<{ id: string }> {
    return this.styles.make(me, style);
  }

  /** The rules in a file, to be looked at before they are kept. */
  @Post('styles/read')
  @HttpCode(200)
  @Describes(fileSchema)
  read(@ValidBody(fileSchema) { text: file }: { text: string }): RulesRead {
    return this.styles.read(file);
  }

  @Get('styles/:style')
  get(@ValidId('style') id: string, @Me() me: string): Promise<StyleWhole> {
    return this.styles.get(me, id);
  }

  @Get('styles/:style/versions')
  versions(@ValidId('style') id: string): Promise<StyleVersion[]> {
    return this.styles.versions(id);
  }

  @Get('styles/:style/versions/:version')
  version(@ValidId('style') id: string, @Param('version', versionPipe) version: string): Promise<HouseStyle> {
    return this.styles.versionAt(id, Number(version));
  }

  @Put('styles/:style')
  @Describes(changedSchema)
  set(
    @ValidId('style') id: string,
    @Me() me: string,
    @ValidBody(changedSchema) style: StyleToKeep,
  ): Promise<{ version: number }> {
    return this.styles.set(me, id, style);
  }

  @Delete('styles/:style')
  @HttpCode(204)
  remove(@ValidId('style') id: string, @Me() me: string): Promise<void> {
    return this.styles.remove(me, id);
  }

  /** Which style a manuscript follows. */
  @Put('manuscripts/:id/style')
  @HttpCode(204)
  @Describes(followSchema)
  follow(
    @ValidId('id') _: string,
    @Member() member: Membership,
    @ValidBody(followSchema) { style: id }: { style: string | null },
  ): Promise<void> {
    return this.styles.follow(member, id);
  }
}
