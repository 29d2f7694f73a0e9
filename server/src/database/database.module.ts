import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Settings } from '../settings/settings.js';
import { entities } from './entities.js';
import { migrations } from './migrations.js';

@Module({
  imports: [
    TypeOrmModule.forRootAsync({
      inject: [Settings],
      useFactory: ({ databaseUrl }: Settings) => ({
        type: 'postgres' as const,
        url: databaseUrl,
        entities,
        migrations,
        migrationsRun: true,
        synchronize: false,
        extra: { max: 20 },
      }),
    }),
    TypeOrmModule.forFeature(entities),
  ],
  exports: [TypeOrmModule],
})
export class DatabaseModule {}
