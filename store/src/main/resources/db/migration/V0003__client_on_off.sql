-- A client that is off gets no tokens; the ones it has were ended when it was switched off.
ALTER TABLE client ADD COLUMN enabled INTEGER NOT NULL DEFAULT 1;
