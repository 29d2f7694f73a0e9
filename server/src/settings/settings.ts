import { Global, Injectable, Module } from '@nestjs/common';
import { ConfigModule, ConfigService } from '@nestjs/config';
import Joi from 'joi';

/** All that the environment sets, in one place, checked before anything else is done. */
export interface Environment {
  TEA_PENCIL_PORT: number;
  TEA_PENCIL_HOST: string;
  TEA_PENCIL_DATABASE_URL: string;
  TEA_PENCIL_SECRET: string;
  TEA_PENCIL_DEMO: '0' | '1';
  TEA_PENCIL_PROCESSES: number;
  TEA_PENCIL_SMTP_URL?: string;
  TEA_PENCIL_MAIL_FROM: string;
  TEA_PENCIL_MAIL_PAUSE: number;
  TEA_PENCIL_URL?: string;
  TEA_PENCIL_WORKERS: number;
  TEA_PENCIL_REQUESTS: number;
  TEA_PENCIL_MEGABYTES: number;
  TEA_PENCIL_DEADLINE: number;
  TEA_PENCIL_METRICS_TOKEN?: string;
  TEA_PENCIL_PROXIES: number;
  TEA_PENCIL_API_DOCS: '0' | '1';
  TEA_PENCIL_LOG_LEVEL: 'error' | 'warn' | 'info';
  TEA_PENCIL_OIDC_ISSUER?: string;
  TEA_PENCIL_OIDC_CLIENT?: string;
  TEA_PENCIL_OIDC_SECRET?: string;
  TEA_PENCIL_OIDC_NAME: string;
}

const startWith = 'start with "npm start"';
const environment = Joi.object<Environment>({
  TEA_PENCIL_PORT: Joi.number().port().default(4870),
  TEA_PENCIL_HOST: Joi.string().default('127.0.0.1'),
  TEA_PENCIL_DATABASE_URL: Joi.string()
    .uri({ scheme: ['postgres', 'postgresql'] })
    .required()
    .messages({ 'any.required': `TEA_PENCIL_DATABASE_URL is not set: ${startWith}.` }),
  TEA_PENCIL_SECRET: Joi.string()
    .min(1)
    .required()
    .messages({ 'any.required': `TEA_PENCIL_SECRET is not set: ${startWith}.` }),
  TEA_PENCIL_DEMO: Joi.string().valid('0', '1').default('1'),
  TEA_PENCIL_PROCESSES: Joi.number().integer().min(1).max(64).default(1),
  TEA_PENCIL_SMTP_URL: Joi.string().uri({ scheme: ['smtp', 'smtps'] }),
  TEA_PENCIL_MAIL_FROM: Joi.string().default('Tea Pencil <post@tea-pencil.example>'),
  TEA_PENCIL_MAIL_PAUSE: Joi.number().min(0).default(60),
  TEA_PENCIL_URL: Joi.string().uri({ scheme: ['http', 'https'] }),
  TEA_PENCIL_WORKERS: Joi.number().integer().min(1).max(64).default(2),
  TEA_PENCIL_REQUESTS: Joi.number().integer().min(60).max(1_000_000).default(1200),
  TEA_PENCIL_MEGABYTES: Joi.number().integer().min(1).max(1_000_000).default(2000),
  TEA_PENCIL_DEADLINE: Joi.number().min(1).max(3600).default(180),
  TEA_PENCIL_METRICS_TOKEN: Joi.string().min(16),
  TEA_PENCIL_PROXIES: Joi.number().integer().min(0).max(8).default(0),
  TEA_PENCIL_API_DOCS: Joi.string().valid('0', '1').default('0'),
  TEA_PENCIL_LOG_LEVEL: Joi.string().valid('error', 'warn', 'info').default('warn'),
  TEA_PENCIL_OIDC_ISSUER: Joi.string().uri({ scheme: ['http', 'https'] }),
  TEA_PENCIL_OIDC_CLIENT: Joi.string().min(1),
  TEA_PENCIL_OIDC_SECRET: Joi.string().min(1),
  TEA_PENCIL_OIDC_NAME: Joi.string().max(40).default('your work account'),
})
  .and('TEA_PENCIL_OIDC_ISSUER', 'TEA_PENCIL_OIDC_CLIENT', 'TEA_PENCIL_OIDC_SECRET')
  .messages({
    'object.and':
      'TEA_PENCIL_OIDC_ISSUER, TEA_PENCIL_OIDC_CLIENT and TEA_PENCIL_OIDC_SECRET are set together or not at all.',
  })
  .unknown();

/**
 * The settings of the environment.
 * @throws Error with a sentence that names the one that is wrong
 */
export function readEnvironment(given: Record<string, unknown>): Environment {
  const { error, value } = environment.validate(given, { abortEarly: true, errors: { wrap: { label: false } } });
  if (error) throw new Error(`The environment is not as it should be: ${error.message}`);
  return value as Environment;
}

/** What is set for this process. */
@Injectable()
export class Settings {
  readonly databaseUrl: string;
  /** Whether demo people may come in with one click. */
  readonly demo: boolean;
  /** How many threads do what would take too long for everyone to wait for. */
  readonly workers: number;
  /** How many requests one person may send in a minute. */
  readonly requests: number;
  /** How many megabytes one person may bring in an hour. */
  readonly megabytes: number;
  /** What one must know to read the numbers of this process; none: nobody can. */
  readonly metricsToken: string | undefined;
  readonly mail: {
    /** The server mail goes out over; none: it is shown in the outbox. */
    server: string | undefined;
    from: string;
    /** How long nothing must have come before mail goes out, in milliseconds. */
    pause: number;
  };
  /** The provider of work accounts (OpenID Connect), where there is one, and how its button calls them. */
  readonly work: { issuer: string; client: string; secret: string; name: string } | null;
  /** The address of the pages, for links in mail. */
  readonly home: string;

  constructor(config: ConfigService<Environment, true>) {
    const get = <K extends keyof Environment>(name: K): Environment[K] => config.get(name, { infer: true });
    this.databaseUrl = get('TEA_PENCIL_DATABASE_URL');
    this.demo = get('TEA_PENCIL_DEMO') === '1';
    this.workers = get('TEA_PENCIL_WORKERS');
    this.requests = get('TEA_PENCIL_REQUESTS');
    this.megabytes = get('TEA_PENCIL_MEGABYTES');
    this.metricsToken = get('TEA_PENCIL_METRICS_TOKEN');
    this.mail = {
      server: get('TEA_PENCIL_SMTP_URL'),
      from: get('TEA_PENCIL_MAIL_FROM'),
      pause: get('TEA_PENCIL_MAIL_PAUSE') * 1000,
    };
    const issuer = get('TEA_PENCIL_OIDC_ISSUER');
    this.work = issuer
      ? {
          issuer,
          client: get('TEA_PENCIL_OIDC_CLIENT')!,
          secret: get('TEA_PENCIL_OIDC_SECRET')!,
          name: get('TEA_PENCIL_OIDC_NAME'),
        }
      : null;
    this.home = get('TEA_PENCIL_URL') ?? `http://localhost:${get('TEA_PENCIL_PORT')}`;
  }
}

@Global()
@Module({
  imports: [ConfigModule.forRoot({ ignoreEnvFile: true, validate: readEnvironment as never, cache: true })],
  providers: [Settings],
  exports: [Settings],
})
export class SettingsModule {}
