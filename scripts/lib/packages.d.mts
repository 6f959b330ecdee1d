export function postgresPrograms(): string | undefined
