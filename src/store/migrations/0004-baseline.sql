-- What the original answered when it was run by itself, before anything was changed: the last such run of a port.
-- `summary` is the record that the screens show, as JSON text: it may hold the character NUL, which jsonb cannot.

create table baseline (
  port_id text primary key references port (id) on delete cascade,
  started_at timestamptz not null,
  seconds double precision not null,
  summary text not null
);
