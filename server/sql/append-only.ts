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

create function chunk_never_changes() returns trigger language plpgsql as $$
        begin
          raise exception 'a chunk never changes' using errcode = 'restrict_violation';
        end $$;
create trigger chunk_never_changes before update on chunk for each statement execute function chunk_never_changes();

-- A content may only ever be given its chunks.
create function only_gets_chunks() returns trigger language plpgsql as $$
        begin
          if old.chunks is null and new.chunks is not null and old.sha256 = new.sha256 and old.size = new.size then return new; end if;
          raise exception 'a content never changes' using errcode = 'restrict_violation';
        end $$;
create trigger content_never_changes before update on content for each row execute function only_gets_chunks();
`
