import { Controller, Get, ServiceUnavailableException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { ApiTags } from '@nestjs/swagger';
import { DataSource } from 'typeorm';

@ApiTags('health')
@Controller('api/health')
export class HealthController {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

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
