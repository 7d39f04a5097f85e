-- What sections of the original looked like when they were last paired or proven, by which drift is told.

create table section_memory (
  port_id text not null references port (id) on delete cascade,
  twin text not null,
  module text not null,
  section text not null,
  twin_section text not null,
  file text not null,
  -- Its own text; sources may hold any character but NUL, which is written as U+2400.
  body text not null,
  remembered_at timestamptz not null,
  basis text not null check (basis in ('paired', 'proven', 'said')),
  commit_id text,
  primary key (port_id, twin, module, section)
);
