import type { INestApplicationContext } from '@nestjs/common';
export async function loadDemo(_app: INestApplicationContext): Promise<void> {}
