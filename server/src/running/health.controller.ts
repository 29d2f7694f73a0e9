import { Controller, Get, ServiceUnavailableException, type BeforeApplicationShutdown } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { ApiTags } from '@nestjs/swagger';
import { DataSource } from 'typeorm';

/** Whether this process lives, and whether it is to be asked: one that is ending lives, and is not. */
@ApiTags('health')
@Controller('api')
export class HealthController implements BeforeApplicationShutdown {
  #leaving = false;
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  beforeApplicationShutdown(): void {
    this.#leaving = true;
  }

  @Get('ready')
  async ready(): Promise<{ status: 'ok' }> {
    if (this.#leaving) throw new ServiceUnavailableException('This process is ending.');
    return this.health();
  }

  @Get('health')
  async health(): Promise<{ status: 'ok' }> {
    try {
      await this.database.query('SELECT 1');
    } catch {
      throw new ServiceUnavailableException('The database does not answer.');
    }
    return { status: 'ok' };
  }
}
