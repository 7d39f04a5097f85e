-- How many complaints the checks of the ladder had, over time.
create table complaint_point (
  port_id text not null references port (id) on delete cascade,
  twin text not null,
  at timestamptz not null,
  errors integer not null,
  warnings integer not null,
  primary key (port_id, twin, at)
);
