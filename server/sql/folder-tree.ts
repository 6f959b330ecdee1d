// The folders of a share are a tree, which the database holds by itself: whoever moves folders locks the share's row
// first, so that two moves at once cannot make a circle between them, and when they commit every folder that was moved
// is followed up to the top.

/** Folders within each other at most; what is deeper would not be read to its end. */
export const deepestFolder = 100

export const folderTree = `
create function refuse_folder_circle() returns trigger language plpgsql as $$
  declare
    at uuid := new.folder_id;
    steps integer := 0;
  begin
    while at is not null loop
      steps := steps + 1;
      if at = new.id then
        raise exception 'a folder lies in itself' using errcode = 'check_violation', constraint = 'entry_no_circle';
      end if;
      if steps > ${deepestFolder} then
        raise exception 'folders lie too deep in each other' using errcode = 'check_violation', constraint = 'entry_not_too_deep';
      end if;
      select folder_id into at from entry where id = at;
    end loop;
    return null;
  end $$;
create constraint trigger entry_is_a_tree after insert or update of folder_id on entry
  deferrable initially deferred for each row
  when (new.folder_id is not null and new.kind = 'folder') execute function refuse_folder_circle();
`
