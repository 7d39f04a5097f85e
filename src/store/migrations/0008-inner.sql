-- Where the cases of a family part inside: the section, the path of calls down to it, and a small case that shows it by itself.

alter table family add column "inner" jsonb;
