-- What the last check that covered a section found: divergences with the same face, and what is suspected of them.

create table family (
  port_id text not null references port (id) on delete cascade,
  check_id integer not null references check_run (id) on delete cascade,
  ordinal integer not null,
  twin text not null,
  module text,
  call text not null,
  at text not null,
  kind text not null,
  sentence text not null,
  simplest text not null,
  cases jsonb not null,
  suspects jsonb not null,
  primary key (port_id, check_id, ordinal)
);
