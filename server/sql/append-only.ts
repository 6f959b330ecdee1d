// What refuses a change in the database itself, whoever asks for it. The application's role has no right to most of
// this anyway (roles.ts); these hold for the owner, too. Made by the migrations; the texts here are what they made.

export const appendOnly = `
create function refuse_change() returns trigger language plpgsql as $$
        begin
          raise exception 'a % never changes', tg_table_name using errcode = 'restrict_violation';
        end $$;
create trigger version_never_changes before update or truncate on version
  for each statement execute function refuse_change();
create trigger content_block_never_changes before update on content_block
  for each statement execute function refuse_change();
create trigger audit_log_never_changes before update or delete or truncate on audit_log
  for each statement execute function refuse_change();
create trigger convention_version_never_changes before update or delete or truncate on convention_version
  for each statement execute function refuse_change();

-- Only retention's functions say that they are it (retention.ts).
create function refuse_removal() returns trigger language plpgsql as $$
        begin
          if coalesce(current_setting('jaula.retention', true), '') <> 'on' then
            raise exception 'a version never goes but by retention' using errcode = 'restrict_violation';
          end if;
          return null;
        end $$;
create trigger version_goes_by_retention before delete on version for each statement execute function refuse_removal();

-- Only mending's functions are it, which run as the owner (mending.ts): what anybody may set is not enough.
create function chunk_never_changes() returns trigger language plpgsql as $$
        begin
          if coalesce(current_setting('jaula.mending', true), '') = 'on'
            and pg_has_role(current_user, (select relowner from pg_class where oid = tg_relid), 'usage') then return null; end if;
          raise exception 'a chunk never changes' using errcode = 'restrict_violation';
        end $$;
create trigger chunk_never_changes before update on chunk for each statement execute function chunk_never_changes();

-- A content may only ever be given its chunks, or be as it came again (mending.ts).
create function only_gets_chunks() returns trigger language plpgsql as $$
        begin
          if old.sha256 = new.sha256 and old.size = new.size and (old.chunks is null and new.chunks is not null
            or new.chunks is null and coalesce(current_setting('jaula.mending', true), '') = 'on'
              and pg_has_role(current_user, (select relowner from pg_class where oid = tg_relid), 'usage')) then return new; end if;
          raise exception 'a content never changes' using errcode = 'restrict_violation';
        end $$;
create trigger content_never_changes before update on content for each row execute function only_gets_chunks();
`

/** What an act did to versions, for the table that came later. */
export const appendOnlyActs = `
create trigger act_version_never_changes before update or delete or truncate on act_version
  for each statement execute function refuse_change();
`
