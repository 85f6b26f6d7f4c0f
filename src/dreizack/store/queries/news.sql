-- notify: Tell every process that listens.
SELECT pg_notify('dreizack', %(message)s);
