-- When people worked on modules, by the minute: a save of a twin's file or a check of the module.
create table module_touch (
  port_id text not null references port (id) on delete cascade,
  twin text not null,
  module text not null,
  at timestamptz not null,
  primary key (port_id, twin, module, at)
);

-- What was left of a port after a check of it ended.
create table effort_point (
  port_id text not null references port (id) on delete cascade,
  twin text not null,
  at timestamptz not null,
  points_left double precision not null,
  points_total double precision not null,
  lines integer not null,
  proven_lines integer,
  primary key (port_id, twin, at)
);
