-- Ports, what was read of them, checks, and what the last check of each case said.

create table port (
  id text primary key,
  file text not null unique,
  name text not null,
  added_at timestamptz not null
);

create table module (
  port_id text not null references port (id) on delete cascade,
  name text not null,
  ordinal integer not null,
  original_files jsonb not null,
  twin_files jsonb not null,
  primary key (port_id, name)
);

create table section (
  port_id text not null references port (id) on delete cascade,
  module text not null,
  ordinal integer not null,
  name text not null,
  kind text not null,
  file text not null,
  from_line integer not null,
  to_line integer not null,
  complexity integer not null,
  primary key (port_id, module, ordinal)
);

create table shared_case (
  port_id text not null references port (id) on delete cascade,
  id text not null,
  ordinal integer not null,
  module text,
  section text not null,
  body jsonb not null,
  primary key (port_id, id)
);
create index shared_case_by_module on shared_case (port_id, module, ordinal);

create table check_run (
  id integer generated always as identity primary key,
  port_id text not null references port (id) on delete cascade,
  module text,
  state text not null check (state in ('running', 'complete', 'stopped', 'interrupted', 'failed')),
  started_at timestamptz not null,
  ended_at timestamptz,
  seconds double precision,
  totals jsonb,
  proven_lines integer,
  lines integer,
  problem jsonb
);
create index check_run_by_port on check_run (port_id, id desc);

-- What the last check that covered a case said of it. `stamp` tells which code it is about.
create table verdict (
  port_id text not null references port (id) on delete cascade,
  twin text not null,
  case_id text not null,
  check_id integer not null references check_run (id) on delete cascade,
  module text,
  section text not null,
  outcome text not null,
  side text,
  why text,
  last_output text,
  ms_original double precision,
  ms_twin double precision,
  stamp text not null,
  divergence_count integer not null,
  primary key (port_id, twin, case_id)
);
create index verdict_by_module on verdict (port_id, twin, module);

-- Both answers as they were compared; the twin's is null when it was the same to the letter.
create table answer (
  port_id text not null references port (id) on delete cascade,
  twin text not null,
  case_id text not null,
  original text,
  twin_answer text,
  primary key (port_id, twin, case_id)
);

create table divergence (
  port_id text not null references port (id) on delete cascade,
  twin text not null,
  case_id text not null,
  ordinal integer not null,
  at text not null,
  kind text not null,
  original jsonb,
  twin_value jsonb,
  allowance text,
  primary key (port_id, twin, case_id, ordinal)
);

-- Lines of the original that agreeing cases ran through, as of the last check of the module.
create table proven (
  port_id text not null references port (id) on delete cascade,
  module text not null,
  file text not null,
  executable jsonb not null,
  proven jsonb not null,
  stamp text not null,
  check_id integer not null references check_run (id) on delete cascade,
  primary key (port_id, module, file)
);
