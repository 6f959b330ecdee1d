// The two roles of Jaula's database: one that owns everything and migrates, and one that the application connects as.
// Neither is a superuser; the superuser that made the cluster only makes them.
import { createHash } from 'node:crypto'

export const ownerRole = 'jaula_owner'
export const applicationRole = 'jaula_app'
/** What one connection's questions may write to the disk on their way; only a superuser may set it. */
const mostTemporary = '4GB'

/** A role's password, from the superuser's, which is kept in the data folder and nowhere else. */
const passwordOf = (superuserUrl, role) =>
  createHash('sha256')
    .update(`${decodeURIComponent(new URL(superuserUrl).password)} ${role}`)
    .digest('hex')

/** Addresses of a database for the owner and for the application. @param superuserUrl of the same database */
export function roleUrls(superuserUrl) {
  const as = (role) => {
    const url = new URL(superuserUrl)
    url.username = role
    url.password = passwordOf(superuserUrl, role)
    return url.href
  }
  return { ownerUrl: as(ownerRole), url: as(applicationRole) }
}

/**
 * SQL for the superuser, in the database itself: makes the roles where they are missing, and gives the owner what an
 * earlier Jaula made as superuser. It may be run again at any time.
 * @param superuserUrl of that database
 */
export function makeRoles(superuserUrl) {
  const database = decodeURIComponent(new URL(superuserUrl).pathname.slice(1))
  const quoted = `"${database.replaceAll('"', '""')}"`
  const make = (role) => `
      if not exists (select from pg_roles where rolname = '${role}') then
        begin
          create role ${role} login nosuperuser nocreatedb nocreaterole password '${passwordOf(superuserUrl, role)}';
        exception when duplicate_object or unique_violation then null;
        end;
      end if;`
  return `
    do $$
    declare
      one record;
    begin
      ${make(ownerRole)}
      ${make(applicationRole)}
      alter database ${quoted} owner to ${ownerRole};
      grant connect on database ${quoted} to ${applicationRole};
      alter schema public owner to ${ownerRole};
      alter role ${applicationRole} in database ${quoted} set temp_file_limit = '${mostTemporary}';
      for one in select c.oid::regclass as name from pg_class c where relnamespace = 'public'::regnamespace and relkind in ('r', 'p', 'v', 'm')
          and relowner <> '${ownerRole}'::regrole loop
        execute format('alter table %s owner to ${ownerRole}', one.name);
      end loop;
      for one in select p.oid::regprocedure as name from pg_proc p where pronamespace = 'public'::regnamespace and proowner <> '${ownerRole}'::regrole loop
        execute format('alter routine %s owner to ${ownerRole}', one.name);
      end loop;
    end $$`
}
