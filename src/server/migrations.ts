import { bringShapesOver } from "./migrate-shapes";
import type { Queries } from "./queries";

type Step = string | ((db: Queries) => Promise<void>);

/** Numbered migrations, each a list of steps, mostly plain SQL, applied in order and never changed afterwards. */
export const MIGRATIONS: readonly (readonly Step[])[] = [
  [
    `create table blobs (hash text primary key, bytes bytea not null)`,
    `create table assets (
    id text primary key,
    name text not null,
    unit text not null,
    -- header of the asset without its layouts; arrays by hash
    structure jsonb not null,
    source_hash text references blobs(hash),
    -- counts every change of the head; an edit names the one it was made on
    version integer not null default 0,
    head integer not null default 0,
    figures jsonb,
    picture bytea,
    created_at timestamptz not null default now(),
    updated_at timestamptz not null default now()
  )`,
    `create table revisions (
    asset text not null references assets(id) on delete cascade,
    number integer not null,
    parent integer,
    operation text not null,
    options jsonb not null,
    words text not null,
    figures jsonb,
    created_at timestamptz not null default now(),
    primary key (asset, number)
  )`,
    `create index revisions_by_parent on revisions (asset, parent)`,
    `create table revision_layouts (
    asset text not null,
    number integer not null,
    part text not null,
    set_index integer not null,
    name text not null,
    cut text not null references blobs(hash),
    mapped text not null references blobs(hash),
    uv text not null references blobs(hash),
    pinned text not null references blobs(hash),
    primary key (asset, number, part, set_index),
    foreign key (asset, number) references revisions (asset, number) on delete cascade
  )`,
  ],
  [
    `alter table blobs rename to chunks`,
    `-- an array is its chunks one after another; its hash is of the whole, a chunk's of its part
    create table arrays (hash text primary key, size bigint not null, chunks text[] not null)`,
    `-- arrays of before are one chunk each; sizes were not kept and are not needed to read them
    insert into arrays (hash, size, chunks) select hash, 0, array[hash] from chunks`,
    `create table revision_heads (
      asset text not null,
      number integer not null,
      record jsonb not null,
      primary key (asset, number),
      foreign key (asset, number) references revisions (asset, number) on delete cascade
    )`,
    `create table revision_parts (
      asset text not null,
      number integer not null,
      part text not null,
      record jsonb not null,
      -- the shape as JSON whose arrays are numbers into the list beside it; null for an instance
      body jsonb,
      arrays text[] not null,
      primary key (asset, number, part),
      foreign key (asset, number) references revisions (asset, number) on delete cascade
    )`,
    `create table asset_files (
      asset text not null references assets(id) on delete cascade,
      key text not null,
      array_hash text not null references arrays(hash),
      primary key (asset, key)
    )`,
    `create table marks (
      id text primary key,
      asset text not null,
      number integer not null,
      name text not null,
      note text not null default '',
      automatic boolean not null default false,
      created_at timestamptz not null default now(),
      foreign key (asset, number) references revisions (asset, number) on delete cascade
    )`,
    `insert into revision_heads (asset, number, record)
      select a.id, 0, jsonb_build_object(
        'unit', a.unit,
        'up', a.structure->'up',
        'sets', coalesce((
          select jsonb_agg(jsonb_build_object('id', 's' || (n.set_index + 1), 'name', n.name, 'purpose', 'unique', 'exportAs', n.set_index) order by n.set_index)
          from (select set_index, min(name) as name from revision_layouts l where l.asset = a.id group by set_index) n
        ), '[{"id":"s1","name":"UV 1","purpose":"unique","exportAs":0}]'::jsonb),
        'materials', a.structure->'materials',
        'images', '[]'::jsonb,
        'source', a.structure->'source' || case when a.source_hash is null then '{}'::jsonb else '{"key":"source"}'::jsonb end,
        'order', (select jsonb_agg(p.value->>'id' order by p.ordinality) from jsonb_array_elements(a.structure->'parts') with ordinality p)
      ) from assets a`,
    `insert into revision_parts (asset, number, part, record, body, arrays)
      select a.id, 0, p->>'id', p - 'mesh',
        case when p ? 'mesh' then jsonb_build_object('mesh', jsonb_build_object(
          'positions', 0, 'faceStart', 1, 'cornerVertex', 2, 'faceMaterial', 3, 'faceGroup', 4, 'originVertex', 5, 'originFace', 6,
          'groups', p->'mesh'->'groups'
        ) || case when p->'mesh' ? 'cornerNormal' then '{"cornerNormal":7}'::jsonb else '{}'::jsonb end) end,
        case when p ? 'mesh' then array_remove(array[
          p->'mesh'->>'positions', p->'mesh'->>'faceStart', p->'mesh'->>'cornerVertex', p->'mesh'->>'faceMaterial',
          p->'mesh'->>'faceGroup', p->'mesh'->>'originVertex', p->'mesh'->>'originFace', p->'mesh'->>'cornerNormal'
        ], null) else '{}' end
      from assets a, jsonb_array_elements(a.structure->'parts') p`,
    `insert into asset_files (asset, key, array_hash) select id, 'source', source_hash from assets where source_hash is not null`,
    `alter table revision_layouts add column set_id text`,
    `update revision_layouts set set_id = 's' || (set_index + 1)`,
    `alter table revision_layouts drop constraint revision_layouts_pkey`,
    `alter table revision_layouts alter column set_id set not null`,
    `alter table revision_layouts add primary key (asset, number, part, set_id)`,
    `alter table revision_layouts drop column set_index`,
    `alter table revision_layouts drop column name`,
    `-- a layout taken away has a row without arrays
    alter table revision_layouts
      drop constraint revision_layouts_cut_fkey, drop constraint revision_layouts_mapped_fkey,
      drop constraint revision_layouts_uv_fkey, drop constraint revision_layouts_pinned_fkey,
      alter column cut drop not null, alter column mapped drop not null,
      alter column uv drop not null, alter column pinned drop not null`,
    `alter table assets add column parts integer not null default 1`,
    `update assets set parts = jsonb_array_length(structure->'parts')`,
    `alter table assets drop column structure, drop column source_hash, drop column unit`,
  ],
  [`alter table assets add column exports integer not null default 0`],
  // The second edition of the model: shapes apart from the parts that draw them; steps keep what they acted on and the
  // key of their request; states are kept now and then, so that none takes a walk over the whole history.
  [
    `create table revision_shapes (
      asset text not null,
      number integer not null,
      shape text not null,
      -- as JSON whose arrays are numbers into the list beside it
      body jsonb not null,
      arrays text[] not null,
      primary key (asset, number, shape),
      foreign key (asset, number) references revisions (asset, number) on delete cascade
    )`,
    bringShapesOver,
    `alter table revision_parts drop column body, drop column arrays`,
    `alter table revision_layouts rename column part to shape`,
    `alter table revisions add column scope jsonb, add column key text, add column version integer`,
    `create unique index revisions_by_key on revisions (asset, key)`,
    `create table snapshots (
      asset text not null,
      number integer not null,
      -- the state at this revision: head, parts, shapes and layouts with the hashes of their arrays, as compressed JSON
      state bytea not null,
      primary key (asset, number),
      foreign key (asset, number) references revisions (asset, number) on delete cascade
    )`,
    `alter table arrays add column is_whole boolean not null default true`,
    `alter table arrays alter column is_whole drop default`,
    `-- arrays of before the first migration had no size of their own
    update arrays set size = 0 where size is null`,
    `create table array_leases (id text not null, hash text not null, until timestamptz not null, primary key (id, hash))`,
    `create index array_leases_by_hash on array_leases (hash)`,
    `-- chunks are compressed already; the database need not try again
    alter table chunks alter column bytes set storage external`,
  ],
  // Pictures that are laid over faces to judge a layout; they belong to no asset.
  [
    `create table pictures (
      id text primary key,
      name text not null,
      type text not null,
      bytes bytea not null,
      created_at timestamptz not null default now()
    )`,
    `alter table pictures alter column bytes set storage external`,
  ],
];
