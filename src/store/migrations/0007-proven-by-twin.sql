-- What agrees on one twin proves nothing of another. Which twin the lines of before were proven on is not known: they are
-- measured again by the next check.

delete from proven;
alter table proven add column twin text not null;
alter table proven drop constraint proven_pkey;
alter table proven add primary key (port_id, twin, module, file);
