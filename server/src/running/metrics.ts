import { Controller, Get, Global, Headers, Injectable, Module, NotFoundException, Res } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { ApiTags } from '@nestjs/swagger';
import { timingSafeEqual } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client';
import { DataSource } from 'typeorm';
import { DatabaseModule } from '../database/database.module.js';
import { Settings } from '../settings/settings.js';
import { Workers } from '../work/workers.js';

/** What the connections to the database are doing. */
interface Pool {
  totalCount: number;
  idleCount: number;
  waitingCount: number;
}

const seconds = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10, 30];

/** Numbers for whoever keeps the house, of this process, in the text format of Prometheus (exposition format 0.0.4). */
@Injectable()
export class Metrics {
  readonly registry = new Registry();
  readonly #requests = new Histogram({
    name: 'tea_pencil_request_seconds',
    help: 'How long requests took, by route and status.',
    labelNames: ['method', 'route', 'status'],
    buckets: seconds,
    registers: [this.registry],
  });
  readonly #acknowledged = new Histogram({
    name: 'tea_pencil_acknowledged_seconds',
    help: 'How long it took until a batch of steps was answered.',
    labelNames: ['outcome'],
    buckets: seconds,
    registers: [this.registry],
  });
  readonly #connections = new Gauge({
    name: 'tea_pencil_live_connections',
    help: 'Windows that are connected.',
    registers: [this.registry],
  });
  readonly #refused = new Counter({
    name: 'tea_pencil_refused_for_rate_total',
    help: 'Requests that were not answered because too many came.',
    registers: [this.registry],
  });

  constructor(workers: Workers, @InjectDataSource() database: DataSource) {
    this.registry.setDefaultLabels({ process: String(process.pid) });
    collectDefaultMetrics({ register: this.registry });
    const registers = [this.registry];
    new Gauge({
      name: 'tea_pencil_files',
      help: 'Files that are read or written, and that wait for it.',
      labelNames: ['state'],
      registers,
      collect() {
        const { under, waiting } = workers.load();
        this.set({ state: 'under way' }, under);
        this.set({ state: 'waiting' }, waiting);
      },
    });
    new Gauge({
      name: 'tea_pencil_database_connections',
      help: 'Connections to the database, and requests that wait for one.',
      labelNames: ['state'],
      registers,
      collect() {
        const { master } = database.driver as unknown as { master: Pool };
        this.set({ state: 'open' }, master.totalCount);
        this.set({ state: 'idle' }, master.idleCount);
        this.set({ state: 'waiting' }, master.waitingCount);
      },
    });
  }

  /** Takes note of every request that passes. */
  readonly watch = (request: Request, response: Response, next: NextFunction): void => {
    const end = this.#requests.startTimer();
    response.once('finish', () => {
      const { path = 'none' } = (request.route as { path?: string } | undefined) ?? {};
      end({ method: request.method, route: path, status: response.statusCode });
      if (response.statusCode === 429) this.#refused.inc();
    });
    next();
  };

  connected = (): void => this.#connections.inc();
  disconnected = (): void => this.#connections.dec();

  /** Takes note of how long the answer to a batch took. */
  async acknowledged<T extends object>(answer: Promise<T>): Promise<T> {
    const end = this.#acknowledged.startTimer();
    const outcome = await answer;
    end({ outcome: Object.keys(outcome)[0] ?? 'none' });
    return outcome;
  }
}

/** The numbers are for whoever knows the token that the process was started with; without one they are nowhere. */
@ApiTags('health')
@Controller('api/metrics')
export class MetricsController {
  constructor(
    private readonly metrics: Metrics,
    private readonly settings: Settings,
  ) {}

  @Get()
  async numbers(@Headers('authorization') given: string | undefined, @Res() response: Response): Promise<void> {
    const { metricsToken } = this.settings;
    const expected = Buffer.from(`Bearer ${metricsToken ?? ''}`);
    const known = Buffer.from(given ?? '');
    if (!metricsToken || known.length !== expected.length || !timingSafeEqual(known, expected))
      throw new NotFoundException('There is nothing here.');
    response.type(this.metrics.registry.contentType).send(await this.metrics.registry.metrics());
  }
}

@Global()
@Module({
  imports: [DatabaseModule],
  controllers: [MetricsController],
  providers: [Metrics],
  exports: [Metrics],
})
export class MetricsModule {}
