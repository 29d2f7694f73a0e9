import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { DataSource, type DataSourceOptions } from 'typeorm';
import { Settings } from '../settings/settings.js';
import { entities } from './entities.js';
import { mayCome, migrate } from './migrating.js';
import { migrations } from './migrations.js';
import { SteadyClient } from './pool.js';

/** How long a connection may be waited for, a statement may take, and its answer, in milliseconds. */
const limits = { connectionTimeoutMillis: 10_000, statement_timeout: 30_000, query_timeout: 40_000 };

@Module({
  imports: [
    TypeOrmModule.forRootAsync({
      inject: [Settings],
      useFactory: ({ databaseUrl }: Settings) => ({
        type: 'postgres' as const,
        url: databaseUrl,
        entities,
        migrations,
        synchronize: false,
        extra: { max: 20, ...limits, Client: SteadyClient },
        toRetry: mayCome,
      }),
      dataSourceFactory: async (options) => {
        await migrate(options as DataSourceOptions);
        return new DataSource(options as DataSourceOptions).initialize();
      },
    }),
    TypeOrmModule.forFeature(entities),
  ],
  exports: [TypeOrmModule],
})
export class DatabaseModule {}
