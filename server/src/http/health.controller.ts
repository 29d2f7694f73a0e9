import { Controller, Get, ServiceUnavailableException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { ApiTags } from '@nestjs/swagger';
import { DataSource } from 'typeorm';
import { Open } from './access.js';

@ApiTags('health')
@Controller('api/health')
export class HealthController {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  @Open()
  @Get()
  async health(): Promise<{ status: 'ok' }> {
    try {
      await this.database.query('SELECT 1');
    } catch {
      throw new ServiceUnavailableException('The database does not answer.');
    }
    return { status: 'ok' };
  }
}
