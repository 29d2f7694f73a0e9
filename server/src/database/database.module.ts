import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { entities } from './entities.js';
import { migrations } from './migrations.js';

export function databaseUrl(): string {
  const url = process.env.TEA_PENCIL_DATABASE_URL;
  if (!url) throw new Error('TEA_PENCIL_DATABASE_URL is not set: start with "npm start".');
  return url;
}

@Module({
  imports: [
    TypeOrmModule.forRootAsync({
      useFactory: () => ({
        type: 'postgres' as const,
        url: databaseUrl(),
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
