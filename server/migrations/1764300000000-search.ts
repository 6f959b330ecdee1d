import type { MigrationInterface, QueryRunner } from 'typeorm'

/**
 * Search by words. Postings lie by share, word and newness, so that the newest hits of a word are
 * read from one place in the index however many there are.
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
        share_no integer not null,
        version_id uuid,
        title text not null default '',
        facets text[] not null default '{}',
        -- The words as they are in the postings, to take them out again.
        words integer[] not null default '{}',
        fields smallint[] not null default '{}',
        content_words text[] not null default '{}'
      );
      create table search_posting (
        share_no integer not null,
        word_id integer not null,
        no integer not null,
        fields smallint not null,
        primary key (share_no, word_id, no) include (fields)
      );
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
