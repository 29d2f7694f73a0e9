import { applyDecorators, BadRequestException, Body, Param, type PipeTransform } from '@nestjs/common';
import { ApiBody } from '@nestjs/swagger';
import type { ObjectSchema, Schema } from 'joi';
import joiToSwagger from 'joi-to-swagger';
import Joi from 'joi';
import { longest } from '../secrets/secrets.js';
import { isLegible, noLetters } from './letters.js';

// The package is CommonJS: what its types call the default export is the whole module here.
const toSwagger = joiToSwagger as unknown as typeof joiToSwagger.default;

/**
 * Lets only what the schema describes through, and no character that no text can hold; the answer to anything else names
 * what is wrong.
 */
export class JoiPipe implements PipeTransform {
  readonly #schema: Schema;
  constructor(schema: Schema) {
    this.#schema = schema.required(); // a request may bring nothing at all
  }
  transform(value: unknown): unknown {
    if (!isLegible(value)) throw new BadRequestException(noLetters);
    const { error, value: valid } = this.#schema.validate(value, { convert: false, abortEarly: true });
    if (error) throw new BadRequestException(`This request cannot be understood: ${error.message}.`);
    return valid as unknown;
  }
}

/** The body of a request, checked against the schema. */
export const ValidBody = (schema: ObjectSchema): ParameterDecorator => Body(new JoiPipe(schema));

/** Documents the same schema. */
export const Describes = (schema: ObjectSchema) =>
  applyDecorators(ApiBody({ schema: toSwagger(schema).swagger as Record<string, unknown> }));

/**
 * A line of text that others read among their own words: no sign in it turns the direction of what stands around it
 * (Unicode UAX #9, 2: explicit directional formatting characters and marks).
 */
export const lineText = Joi.string()
  .trim()
  .strict(false)
  .custom((value: string, { message }) =>
    turnsDirection.test(value) ? message({ custom: '{{#label}} holds signs that turn the direction of words' }) : value,
  );
const turnsDirection = /[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/;
/** A line that a file brings, without such signs. */
export const lineFromFile = (text: string): string => text.replace(new RegExp(turnsDirection, 'g'), '');

/** Ids as this server makes them, and as clients may propose them. */
export const idSchema = Joi.string().pattern(/^[\w-]{1,40}$/);

/** Ids of changes; those of a sweep are numbered. */
export const changeSchema = Joi.string().pattern(/^[\w-]{1,40}(\.\d{1,6})?$/);

export const ValidId = (name: string): ParameterDecorator => Param(name, new JoiPipe(idSchema.required()));

/** An address that mail could be sent to. */
export const mailSchema = Joi.string()
  .email({ tlds: false })
  .max(200)
  .messages({ 'string.email': 'this is no address that mail could be sent to' });

/** A password or passphrase that comes new. */
export const secretSchema = Joi.string()
  .min(1)
  .max(longest)
  .required()
  .messages({ 'string.max': `a password or passphrase has at most ${longest} letters` });
