import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Search by words. Files have numbers in the order in which they came; a word's files lie in blocks
 * of 8192 numbers, a block as a bitmap where it is well filled and as single rows where it is not
 * (the idea of Chambi, Lemire, Kaser, Godin: Better bitmap performance with Roaring bitmaps, 2016).
 * So the newest files are read first and any number of words is intersected at a cost by blocks.
 */
export class Search1764300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      alter table share add column no integer generated always as identity unique;
      create table search_word (
        id integer generated always as identity primary key,
        word text collate "C" not null unique,
        -- How many files have it.
        files integer not null default 0
      );
      -- tail: endings of a word, by which any part of it is found. slip: the word less one letter.
      create table search_form (
        kind "char" not null,
        form text collate "C" not null,
        word_id integer not null references search_word,
        primary key (kind, form, word_id)
      );
      create table search_file (
        -- No reference that the database would check: the index must never wait for a save, nor a save for it.
        file_id uuid primary key,
        no integer generated always as identity unique,
        version_id uuid,
        title text not null default '',
        facets text[] not null default '{}',
        -- The words as they are in the postings, to take them out again.
        words integer[] not null default '{}',
        fields smallint[] not null default '{}',
        content_words text[] not null default '{}'
      );
      create table search_posting (
        word_id integer not null,
        no integer not null,
        primary key (word_id, no)
      );
      create table search_block (
        word_id integer not null,
        block integer not null,
        files bytea not null check (length(files) = 1024),
        primary key (word_id, block)
      );
      alter table search_block alter column files set storage plain;
      alter table search_block set (fillfactor = 70);
      -- Only added to and taken from, so that no save waits for another nor for the index.
      create table search_queue (
        id bigint generated always as identity primary key,
        file_id uuid not null
      );
      create function queue_for_search() returns trigger language plpgsql as $$
        begin
          if new.kind = 'file' then
            insert into search_queue (file_id) values (new.id);
          end if;
          return null;
        end $$;
      create trigger entry_added_for_search after insert on entry for each row execute function queue_for_search();
      create trigger entry_changed_for_search after update of name, share_id, folder_id, head_version_id, removed_at on entry
        for each row execute function queue_for_search();
      insert into search_queue (file_id) select id from entry where kind = 'file';
      create function queue_share_for_search() returns trigger language plpgsql as $$
        begin
          insert into search_queue (file_id)
            select e.id from entry e where e.share_id = coalesce((to_jsonb(new)->>'share_id')::uuid,
              (select c.share_id from convention c where c.id = (to_jsonb(new)->>'convention_id')::uuid)) and e.kind = 'file' and e.removed_at is null;
          return null;
        end $$;
      -- What a name says depends on its convention.
      create trigger convention_for_search after insert on convention_version for each row execute function queue_share_for_search();
      create trigger list_for_search after insert or update on controlled_list for each row execute function queue_share_for_search();
    `)
  }

  async down(): Promise<void> {
    throw new Error('Search is not taken back.')
  }
}
