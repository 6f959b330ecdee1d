// What the role that the application connects as may do. It owns nothing, so that it can disable no trigger and truncate
// no table; what is append-only it may add to and read.
import type { DataSource, QueryRunner } from 'typeorm'

/** Rows that never change or go, but by the owner's functions (retention.ts, mending.ts). */
export const appendOnly = [
  'version',
  'content',
  'content_block',
  'chunk',
  'removed_version',
  'convention_version',
  'act',
  'act_change',
  'act_version',
  'former_name',
  'audit_log',
  'link_use',
] as const
/** What of these is filled in once, later: the database's triggers hold it to that. */
const filledIn = { content: 'chunks', act: 'undone_by' } as const

/** Gives a role what the application needs, and takes away what it does not, as the owner of everything. */
export async function grantToApplication(runner: QueryRunner, role: string): Promise<void> {
  const to = `"${role.replaceAll('"', '""')}"`
  await runner.query(`
    grant usage on schema public to ${to};
    grant select, insert, update, delete on all tables in schema public to ${to};
    revoke update, delete on ${appendOnly.join(', ')} from ${to};
    revoke insert, update, delete on migrations from ${to};
    ${Object.entries(filledIn)
      .map(([table, column]) => `grant update (${column}) on ${table} to ${to};`)
      .join('\n')}
    grant execute on function remove_versions, free_contents, free_chunks, drop_blocks, mend_content, mend_chunk to ${to};
  `)
}

/**
 * What the role of this connection could do that it should not be able to; none where it is as it should be.
 * @returns sentences
 */
export async function roleFaults(database: Pick<DataSource, 'query'>): Promise<string[]> {
  const [role]: { name: string; super: boolean; createrole: boolean; programs: boolean }[] = await database.query(
    `select current_user as name, rolsuper as super, rolcreaterole or rolbypassrls or rolreplication as createrole,
       pg_has_role(current_user, 'pg_execute_server_program', 'member') or pg_has_role(current_user, 'pg_write_server_files', 'member') as programs
     from pg_roles where rolname = current_user`,
  )
  const owned: { name: string }[] = await database.query(
    `select relname as name from pg_class where relnamespace = 'public'::regnamespace and relkind in ('r', 'p')
       and pg_has_role(current_user, relowner, 'member') order by relname`,
  )
  const wide: { name: string; what: string }[] = await database.query(
    `select t.name, w.what from unnest($1::text[]) as t(name), unnest(array['UPDATE', 'DELETE', 'TRUNCATE', 'TRIGGER']) as w(what)
     where has_table_privilege(current_user, 'public.' || t.name, w.what)`,
    [appendOnly],
  )
  const faults: string[] = []
  if (role!.super) faults.push(`The role ${role!.name} is a superuser.`)
  else {
    if (role!.createrole) faults.push(`The role ${role!.name} may change roles or pass over rules.`)
    if (role!.programs)
      faults.push(`The role ${role!.name} may run programs, or write files, on the database’s machine.`)
    if (owned.length)
      faults.push(
        `The role ${role!.name} owns ${owned.map(({ name }) => name).join(', ')}, so it can disable their triggers.`,
      )
    for (const { name, what } of wide) faults.push(`The role ${role!.name} may ${what} in ${name}.`)
  }
  return faults
}
