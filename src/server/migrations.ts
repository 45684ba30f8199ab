/** Numbered migrations, plain SQL, applied in order and never changed afterwards. */
export const MIGRATIONS: readonly string[] = [
  `
  create table blobs (hash text primary key, bytes bytea not null);

  create table assets (
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
  );

  create table revisions (
    asset text not null references assets(id) on delete cascade,
    number integer not null,
    parent integer,
    operation text not null,
    options jsonb not null,
    words text not null,
    figures jsonb,
    created_at timestamptz not null default now(),
    primary key (asset, number)
  );
  create index revisions_by_parent on revisions (asset, parent);

  create table revision_layouts (
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
  );
  `,
];
