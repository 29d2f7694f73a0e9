import Joi from 'joi';
import type { Messages } from '@tea-pencil/wire';
import { changeSchema, idSchema } from '../http/validation.js';

/** What clients may send, as schemas; as types it stands in the wire. */

/** A sweep through a long book is one edit. */
const mostSteps = 20_000;
/** Joi's `items` would look at each by itself, which takes longer than reading them. */
const objectsOnly: Joi.CustomValidator<unknown[]> = (steps, helpers) =>
  steps.every((step) => typeof step === 'object' && step !== null && !Array.isArray(step))
    ? steps
    : helpers.error('array.includes');
const manuscript = idSchema.required();
const client = idSchema.required();
const place = Joi.number().integer().min(0).max(1e9).required();

export const schemas: { [name in keyof Messages]: Joi.ObjectSchema } = {
  join: Joi.object({ manuscript, version: Joi.number().integer().min(0).max(1e9), client: idSchema }),
  leave: Joi.object({ manuscript }),
  submit: Joi.object({
    manuscript,
    version: place,
    steps: Joi.array().min(1).max(mostSteps).custom(objectsOnly).required(),
    intent: Joi.string().valid('pencil', 'ink').required(),
    client,
  }),
  decide: Joi.object({
    manuscript,
    changes: Joi.array().items(changeSchema).min(1).max(100_000).required(),
    verdict: Joi.string().valid('accept', 'reject').required(),
    client,
    asked: idSchema,
  }),
  takeBack: Joi.object({
    manuscript,
    decision: idSchema.required(),
    changes: Joi.array().items(idSchema).min(1).max(100_000),
    client,
    asked: idSchema,
  }),
  presence: Joi.object({
    manuscript,
    client,
    at: Joi.object({ version: place, anchor: place, head: place, top: place }).required(),
    asks: Joi.boolean().required(),
  }),
};
