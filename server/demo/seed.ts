import type { DataSource } from 'typeorm'
export async function seedDemo(_database: DataSource): Promise<void> {}
