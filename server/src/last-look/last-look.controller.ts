import { Controller, Delete, Get, HttpCode, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import Joi from 'joi';
import { findingKinds } from '@tea-pencil/core';
import type { DecidedAt, LastLookState, PlacesAsked } from '@tea-pencil/wire';
import { Describes, ValidBody, ValidId } from '../http/validation.js';
import { Member } from '../policy/guard.js';
import type { Member as Membership } from '../policy/may.js';
import { DecidedPlaces } from './decided-at.js';
import { LastLookService, type FindingToLeave, type WordToKeep } from './last-look.service.js';

const leaveSchema = Joi.object({
  key: Joi.string().min(1).max(1000).required(),
  all: Joi.boolean().required(),
  kind: Joi.string()
    .valid(...findingKinds)
    .required(),
  words: Joi.string().allow('').max(400).required(),
});
const wordSchema = Joi.object({
  scope: Joi.string().valid('house', 'manuscript', 'person').required(),
  language: Joi.string()
    .pattern(/^[a-z]{2,3}$/)
    .required(),
  word: Joi.string()
    .pattern(/^[\p{L}\p{M}\p{N}'’.‐‑-]+$/u)
    .max(60)
    .required(),
});
const place = Joi.number().integer().min(0).max(99_999_999).required();
const placesSchema = Joi.object({
  version: Joi.number().integer().min(0).max(999_999_999).required(),
  places: Joi.array()
    .items(Joi.object({ from: place, to: place }))
    .max(200)
    .required(),
});

@ApiTags('last look')
@Controller('api/manuscripts/:id')
export class LastLookController {
  constructor(
    private readonly looks: LastLookService,
    private readonly decided: DecidedPlaces,
  ) {}

  /** What is left, which words are right, which style is followed, and when the text was looked over last. */
  @Get('last-look')
  state(@ValidId('id') _: string, @Member() member: Membership): Promise<LastLookState> {
    return this.looks.state(member);
  }

  /** Says that the text has been looked over. */
  @Post('last-look')
  @HttpCode(204)
  taken(@ValidId('id') _: string, @Member() member: Membership): Promise<void> {
    return this.looks.taken(member);
  }

  @Post('left')
  @HttpCode(204)
  @Describes(leaveSchema)
  leave(@ValidId('id') _: string, @Member() member: Membership, @ValidBody(leaveSchema) what: FindingToLeave) {
    return this.looks.leave(member, what);
  }

  @Delete('left/:left')
  @HttpCode(204)
  takeUp(@ValidId('id') _: string, @Member() member: Membership, @ValidId('left') left: string): Promise<void> {
    return this.looks.takeUp(member, left);
  }

  @Post('words')
  @HttpCode(204)
  @Describes(wordSchema)
  keepWord(@ValidId('id') _: string, @Member() member: Membership, @ValidBody(wordSchema) word: WordToKeep) {
    return this.looks.keepWord(member, word);
  }

  @Delete('words/:word')
  @HttpCode(204)
  letWordGo(@ValidId('id') _: string, @Member() member: Membership, @ValidId('word') word: string): Promise<void> {
    return this.looks.letWordGo(member, word);
  }

  /** Which decisions have made places what they are. */
  @Post('decided-at')
  @HttpCode(200)
  @Describes(placesSchema)
  decidedAt(@ValidId('id') id: string, @ValidBody(placesSchema) asked: PlacesAsked): Promise<(DecidedAt | null)[]> {
    return this.decided.at(id, asked);
  }
}
