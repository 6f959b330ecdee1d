// The rule of rights (core/rights) in SQL. What every realm grants, with what it lets in from above, stands in
// realm_right and is made anew for a share whenever a grant, a realm or a folder's place changes; each entry knows its
// realm. So what a person may see of any number of rows is one join with may(person), and never a question a row.

export const rights = `
-- A person, and every group that they belong to.
create function subjects_of(the_person uuid) returns table (subject_id uuid) language sql stable rows 5 as $$
  with recursive mine(id) as (
    select the_person
    union select g.group_id from group_member g join mine on mine.id = coalesce(g.person_id, g.member_group_id))
  select id from mine
$$;

-- The realms that a person may see, with 1 for view, 2 for edit and 3 for manage.
create function may(the_person uuid) returns table (realm_id uuid, rank smallint) language sql stable rows 20 as $$
  select r.realm_id, max(r.rank) from realm_right r join subjects_of(the_person) s on s.subject_id = r.subject_id
  where r.until is null or r.until > now() group by r.realm_id
$$;

-- The same from the other side: who may see a realm.
create function who_may(the_realm uuid) returns table (person_id uuid, rank smallint) language sql stable rows 20 as $$
  with recursive they(id, rank) as (
    select r.subject_id, r.rank from realm_right r where r.realm_id = the_realm and (r.until is null or r.until > now())
    union select coalesce(g.person_id, g.member_group_id), they.rank from they join group_member g on g.group_id = they.id)
  select p.id, max(they.rank) from they join person p on p.id = they.id group by p.id
$$;

create function refresh_rights(the_share uuid) returns void language plpgsql as $$
  begin
    -- Two that change a share's rights at once come one after the other, and the second sees what the first did.
    perform from share where id = the_share for no key update;
    delete from realm_right where realm_id in (select id from realm where share_id = the_share);
    insert into realm_right (realm_id, grant_id, subject_id, rank, until)
      with recursive tree(id, above, closed) as (
        select r.id, case when r.entry_id is not null then coalesce(f.realm_id, r.share_id) end, r.closed
        from realm r left join entry e on e.id = r.entry_id left join entry f on f.id = e.folder_id where r.share_id = the_share),
      held(realm_id, grant_id, subject_id, rank, until) as (
        select g.realm_id, g.id, coalesce(g.person_id, g.group_id), g.rank, g.until from access_grant g join tree on tree.id = g.realm_id
        union select t.id, h.grant_id, h.subject_id, h.rank, h.until from held h join tree t on t.above = h.realm_id
          where not t.closed or h.rank = 3)
      select * from held;
    -- Whoever remembers who may see what asks again; before anything that is announced afterwards.
    perform pg_notify('jaula_rights', '');
  end $$;

create function rights_changed() returns trigger language plpgsql as $$
  declare
    the_realm uuid := case when tg_op = 'DELETE' then old.realm_id else new.realm_id end;
  begin
    perform refresh_rights((select share_id from realm where id = the_realm));
    return null;
  end $$;
create trigger access_grant_changed after insert or update or delete on access_grant for each row execute function rights_changed();

create function groups_changed() returns trigger language plpgsql as $$
  begin
    perform pg_notify('jaula_rights', '');
    return null;
  end $$;
create trigger group_member_changed after insert or update or delete on group_member for each statement execute function groups_changed();

create function share_is_a_realm() returns trigger language plpgsql as $$
  begin
    insert into realm (id, share_id) values (new.id, new.id);
    return null;
  end $$;
create trigger share_is_a_realm after insert on share for each row execute function share_is_a_realm();

-- A folder or file that becomes a realm, or is none any more, takes along what lies in it.
create function realm_changed() returns trigger language plpgsql as $$
  begin
    if tg_op = 'DELETE' then
      update entry e set realm_id = coalesce((select f.realm_id from entry f where f.id = e.folder_id), e.share_id)
        where e.id = old.entry_id;
      perform refresh_rights(old.share_id);
    else
      if tg_op = 'INSERT' and new.entry_id is not null then
        update entry set realm_id = new.id where id = new.entry_id;
      end if;
      perform refresh_rights(new.share_id);
    end if;
    return null;
  end $$;
create trigger realm_changed after insert or update of closed or delete on realm for each row execute function realm_changed();

-- Where an entry lies says whose rights it has.
create function place_in_realm() returns trigger language plpgsql as $$
  begin
    if tg_op = 'UPDATE' and exists (select from realm where entry_id = new.id) then
      new.realm_id := new.id;
    else
      new.realm_id := coalesce((select f.realm_id from entry f where f.id = new.folder_id), new.share_id);
    end if;
    return new;
  end $$;
create trigger entry_has_a_realm before insert or update of folder_id, share_id on entry
  for each row execute function place_in_realm();

-- What lies in a folder goes along with it into another realm, except what is a realm itself.
create function realm_goes_down() returns trigger language plpgsql as $$
  begin
    if new.kind = 'folder' and new.realm_id <> old.realm_id then
      update entry e set realm_id = new.realm_id
        where e.folder_id = new.id and e.realm_id <> new.realm_id and e.realm_id <> e.id;
    end if;
    if new.realm_id <> old.realm_id then perform pg_notify('jaula_rights', ''); end if;
    -- A realm that is in another place now lets in others from above, and so do those that lie in it.
    if (new.folder_id is distinct from old.folder_id or new.share_id <> old.share_id) and (new.kind = 'folder' or new.realm_id = new.id) then
      if new.share_id <> old.share_id then
        update realm set share_id = new.share_id where entry_id = new.id;
      end if;
      if exists (select from realm where share_id = new.share_id and entry_id is not null) then
        perform refresh_rights(new.share_id);
      end if;
    end if;
    return null;
  end $$;
create trigger entry_realm_goes_down after update of folder_id, share_id, realm_id on entry
  for each row execute function realm_goes_down();
`

/** As `rights` has it, but of a share that may be archived: whoever may edit there looks. */
export const archivedShares = `
create or replace function refresh_rights(the_share uuid) returns void language plpgsql as $$
  declare
    is_archived boolean;
  begin
    -- Two that change a share's rights at once come one after the other, and the second sees what the first did.
    select archived_at is not null into is_archived from share where id = the_share for no key update;
    delete from realm_right where realm_id in (select id from realm where share_id = the_share);
    insert into realm_right (realm_id, grant_id, subject_id, rank, until)
      with recursive tree(id, above, closed) as (
        select r.id, case when r.entry_id is not null then coalesce(f.realm_id, r.share_id) end, r.closed
        from realm r left join entry e on e.id = r.entry_id left join entry f on f.id = e.folder_id where r.share_id = the_share),
      held(realm_id, grant_id, subject_id, rank, until) as (
        select g.realm_id, g.id, coalesce(g.person_id, g.group_id), g.rank, g.until from access_grant g join tree on tree.id = g.realm_id
        union select t.id, h.grant_id, h.subject_id, h.rank, h.until from held h join tree t on t.above = h.realm_id
          where not t.closed or h.rank = 3)
      select realm_id, grant_id, subject_id, case when is_archived and rank = 2 then 1 else rank end, until from held;
    -- Whoever remembers who may see what asks again; before anything that is announced afterwards.
    perform pg_notify('jaula_rights', the_share::text);
  end $$;

create or replace function groups_changed() returns trigger language plpgsql as $$
  begin
    perform pg_notify('jaula_rights', 'groups');
    return null;
  end $$;

create function share_archived() returns trigger language plpgsql as $$
  begin
    perform refresh_rights(new.id);
    return null;
  end $$;
create trigger share_archived after update of archived_at on share for each row execute function share_archived();
`

/**
 * As \`rights\` has it, but not written into the statements that ask: of the few rows that come back PostgreSQL expects a few,
 * and looks up what is granted to each, where it would otherwise expect thousands and read everything.
 */
export const quickSubjects = `
create or replace function subjects_of(the_person uuid) returns table (subject_id uuid) language plpgsql stable rows 20 as $$
  begin
    return query with recursive mine(id) as (
      select the_person
      union select g.group_id from group_member g join mine on mine.id = coalesce(g.person_id, g.member_group_id))
    select id from mine;
  end $$;
`
