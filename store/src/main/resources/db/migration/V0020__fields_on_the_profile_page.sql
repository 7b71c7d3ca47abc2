-- A field may be kept off the page on which people see and change their profile.
ALTER TABLE profile_field ADD COLUMN on_profile_page INTEGER NOT NULL DEFAULT 1;
