-- Verdicts in pages: what one batch of a check said, in one row. A row a verdict cost more than half of a large check's time.
-- Both texts are in the same order; text, because jsonb cannot hold the character NUL that programs answer with.
-- The newest page that names a case has the last word on it; a page that has none left is deleted.

create table verdict_page (
  id integer generated always as identity primary key,
  port_id text not null references port (id) on delete cascade,
  check_id integer not null references check_run (id) on delete cascade,
  -- Columns, each a list or {"all": value}: {"twin", "caseId", "module", "section", "outcome", "side", "why", "msOriginal", "msTwin", "stamp", "divergenceCount"}
  verdicts text not null,
  -- JSON Lines {"original", "twinAnswer", "lastOutput", "divergences"}; what is empty, or the same on the twin, is left out
  details text not null
);
create index verdict_page_by_port on verdict_page (port_id, id);
alter table verdict_page alter column verdicts set storage external;
alter table verdict_page alter column details set storage external;

insert into verdict_page (port_id, check_id, verdicts, details)
select
  verdict.port_id,
  verdict.check_id,
  json_build_object(
    'twin', json_agg(twin order by twin, case_id),
    'caseId', json_agg(case_id order by twin, case_id),
    'module', json_agg(verdict.module order by twin, case_id),
    'section', json_agg(section order by twin, case_id),
    'outcome', json_agg(outcome order by twin, case_id),
    'side', json_agg(side order by twin, case_id),
    'why', json_agg(why order by twin, case_id),
    'msOriginal', json_agg(ms_original order by twin, case_id),
    'msTwin', json_agg(ms_twin order by twin, case_id),
    'stamp', json_agg(stamp order by twin, case_id),
    'divergenceCount', json_agg(divergence_count order by twin, case_id)
  )::text,
  string_agg(
    json_build_object(
      'original', answer.original::json, 'twinAnswer', answer.twin_answer::json, 'lastOutput', last_output,
      'divergences', (
        select coalesce(
          json_agg(
            json_build_object(
              'at', at, 'kind', kind, 'original', divergence.original, 'twin', twin_value, 'allowance', allowance
            ) order by ordinal
          ),
          '[]'::json
        )
        from divergence
        where divergence.port_id = verdict.port_id and divergence.twin = verdict.twin
          and divergence.case_id = verdict.case_id
      )
    )::text, chr(10) order by twin, case_id
  )
from verdict left join answer using (port_id, twin, case_id)
group by verdict.port_id, verdict.check_id
order by verdict.check_id;

drop table divergence;
drop table answer;
drop table verdict;
drop table shared_case;

-- The size and speed of both sides, module by module, as of the end of a check.
create table module_measure (
  check_id integer not null references check_run (id) on delete cascade,
  module text not null,
  twin text not null,
  lines_original integer,
  lines_twin integer,
  seconds_original double precision,
  seconds_twin double precision,
  peak_mb_original double precision,
  peak_mb_twin double precision,
  primary key (check_id, module, twin)
);
alter table check_run add column reused_original integer;
alter table check_run add column reused_twin integer;
alter table check_run add column scope jsonb;
