-- Where the cases of a family part inside: the section, the path of calls down to it, and a small case that shows it by itself.

alter table family add column "inner" jsonb;

-- Cases that a check saw become right, and those it saw become wrong, against the last word before it.
alter table check_run add column mended integer;
alter table check_run add column worsened integer;
