import { ConflictException, Injectable, Logger } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import * as oidc from 'openid-client';
import { DataSource, IsNull, MoreThan, type EntityManager } from 'typeorm';
import { asText } from '@tea-pencil/core';
import { PersonRow } from '../database/entities.js';
import { InvitationRow, WorkAccountRow } from '../database/sharing-entities.js';
import { nameKept, wrongWithName } from '../names/names.js';
import { wentWrong } from '../running/log.js';
import { Settings } from '../settings/settings.js';
import { AccountsService } from './accounts.service.js';
import { HouseFacts } from './house-facts.js';

/** What a sign-in must come back with. */
export interface Begun {
  verifier: string;
  state: string;
  nonce: string;
}

/** Why somebody with a work account does not come in; the page of signing in has a sentence for each. */
export type NotIn = 'away' | 'refused' | 'unverified' | 'unknown' | 'locked';

/** What a provider says of somebody (OpenID Connect Core 1.0, 5.1). */
interface Claims {
  iss: string;
  sub: string;
  name?: unknown;
  email?: unknown;
  email_verified?: unknown;
}

/** Signing in with an account at work: OpenID Connect, by the code flow with PKCE (RFC 7636). */
@Injectable()
export class WorkAccounts {
  readonly #logger = new Logger('WorkAccounts');
  #provider: Promise<oidc.Configuration> | null = null;

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly accounts: AccountsService,
    private readonly facts: HouseFacts,
    private readonly settings: Settings,
  ) {}

  /** The provider as it describes itself; asked again where it did not answer. */
  #config(): Promise<oidc.Configuration> {
    const { issuer, client, secret } = this.settings.work!;
    // What is on this very machine has no certificate.
    const plain = issuer.startsWith('http:') ? { execute: [oidc.allowInsecureRequests] } : undefined;
    this.#provider ??= oidc.discovery(new URL(issuer), client, secret, undefined, plain);
    this.#provider.catch(() => (this.#provider = null));
    return this.#provider;
  }

  get #back(): string {
    return `${this.settings.home}/api/sign-in/work/back`;
  }

  /** Where somebody is sent to sign in; null where the provider does not answer. */
  async begin(): Promise<{ address: string; begun: Begun } | null> {
    try {
      const config = await this.#config();
      const verifier = oidc.randomPKCECodeVerifier();
      const begun = { verifier, state: oidc.randomState(), nonce: oidc.randomNonce() };
      const address = oidc.buildAuthorizationUrl(config, {
        redirect_uri: this.#back,
        scope: 'openid email profile',
        code_challenge: await oidc.calculatePKCECodeChallenge(verifier),
        code_challenge_method: 'S256',
        state: begun.state,
        nonce: begun.nonce,
      });
      return { address: address.href, begun };
    } catch (problem) {
      this.#logger.warn(wentWrong('the provider of work accounts does not answer', problem));
      return null;
    }
  }

  /** Who has come back from there. @param query what stands behind the address they came back to */
  async finish(query: string, { verifier, state, nonce }: Begun): Promise<{ person: string } | { not: NotIn }> {
    let claims: Claims;
    try {
      const config = await this.#config();
      const tokens = await oidc.authorizationCodeGrant(config, new URL(`${this.#back}${query}`), {
        pkceCodeVerifier: verifier,
        expectedState: state,
        expectedNonce: nonce,
        idTokenExpected: true,
      });
      const said = tokens.claims()!;
      claims = { ...(await oidc.fetchUserInfo(config, tokens.access_token, said.sub)), ...said };
    } catch (problem) {
      this.#logger.warn(wentWrong('a sign-in with a work account failed', problem));
      return { not: 'refused' };
    }
    return this.database.transaction((manager) => this.#accountOf(manager, claims));
  }

  async #accountOf(manager: EntityManager, claims: Claims): Promise<{ person: string } | { not: NotIn }> {
    const key = { issuer: claims.iss, subject: claims.sub };
    const known = await manager.findOneBy(WorkAccountRow, key);
    const select = { id: true, lockedAt: true, standing: true, mail: true } as const;
    if (known) {
      const person = await manager.findOneOrFail(PersonRow, { where: { id: known.personId }, select });
      return person.lockedAt || person.standing !== 'account' ? { not: 'locked' } : { person: person.id };
    }
    const { email: mail } = claims;
    if (typeof mail !== 'string' || claims.email_verified !== true) return { not: 'unverified' };
    const [found] = await manager.query<{ id: string; locked: boolean }[]>(
      `SELECT id, locked_at IS NOT NULL AS locked FROM people WHERE lower(mail) = lower($1) AND standing = 'account'`,
      [mail],
    );
    if (found?.locked) return { not: 'locked' };
    const person = found?.id ?? (await this.#newAccount(manager, mail, claims));
    if (person === null) return { not: 'unknown' };
    await manager.insert(WorkAccountRow, { ...key, personId: person });
    return { person };
  }

  /** An account for whoever is invited, or may come in by themselves. */
  async #newAccount(manager: EntityManager, mail: string, { name }: Claims): Promise<string | null> {
    const invited = await manager
      .getRepository(InvitationRow)
      .createQueryBuilder()
      .where('lower(mail) = lower(:mail)', { mail })
      .andWhere({ usedAt: IsNull(), withdrawnAt: IsNull(), endsAt: MoreThan(new Date()) })
      .getExists();
    if (!invited && !(await this.facts.mayComeIn(mail))) return null;
    const said = nameKept(asText(typeof name === 'string' ? name : '').slice(0, 90));
    const called = said && !wrongWithName(said) ? said : mail.slice(0, mail.indexOf('@'));
    for (let n = 1; n < 20; n++) {
      const one = n === 1 ? called : `${called} (${n})`;
      try {
        return await manager.transaction((inner) =>
          this.accounts.create(inner, { name: one, mail, hash: null, confirmed: true }),
        );
      } catch (problem) {
        // Somebody else is called so; whose it is can be changed later.
        if (!(problem instanceof ConflictException)) throw problem;
      }
    }
    return null;
  }
}
