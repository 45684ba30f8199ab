/** Plain SQL, as PGlite and a PostgreSQL server both answer it. */
export interface Queries {
  query<Row = Record<string, unknown>>(sql: string, params?: unknown[]): Promise<{ rows: Row[] }>;
}
