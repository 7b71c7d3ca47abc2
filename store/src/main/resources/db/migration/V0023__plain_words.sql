-- Names that were ours where a standard or the trade has one. What is JSON follows in V0024.
ALTER TABLE issuer RENAME COLUMN longest_secret TO max_secret_lifetime;
ALTER TABLE issuer RENAME COLUMN secrets_without_end TO non_expiring_secrets;
ALTER TABLE issuer RENAME COLUMN development_addresses TO loopback_redirects;

UPDATE signing_key SET purpose = CASE purpose WHEN 'identity' THEN 'id-token' ELSE 'access-token' END;

-- Which scopes a request gets that names none is said by the API (RFC 6749 §3.3).
ALTER TABLE api ADD COLUMN default_scopes TEXT NOT NULL DEFAULT '';
UPDATE api SET default_scopes = coalesce((SELECT group_concat(name, char(10)) FROM
    (SELECT name FROM scope WHERE scope.api_id = api.id AND given_by_default = 1 ORDER BY name)), '');
ALTER TABLE scope DROP COLUMN given_by_default;
ALTER TABLE scope RENAME COLUMN holders TO for_whom;
ALTER TABLE scope RENAME COLUMN words TO consequence;
ALTER TABLE scope RENAME COLUMN life TO status;
ALTER TABLE scope RENAME COLUMN in_metadata TO listed;

-- RFC 7591 §2.
ALTER TABLE client RENAME COLUMN title TO client_name;
ALTER TABLE client RENAME COLUMN auth_method TO token_endpoint_auth_method;
ALTER TABLE client RENAME COLUMN assertion_alg TO token_endpoint_auth_signing_alg;
ALTER TABLE client RENAME COLUMN identity_scopes TO openid_scopes;
UPDATE client SET kind = 'machine' WHERE kind = 'service';
UPDATE client SET contacts = CASE
    WHEN trim(owner) = '' OR instr(char(10) || contacts || char(10), char(10) || owner || char(10)) > 0 THEN contacts
    WHEN contacts = '' THEN owner
    ELSE owner || char(10) || contacts END;
ALTER TABLE client DROP COLUMN owner;

UPDATE approval SET status = 'granted' WHERE status = 'given';
ALTER TABLE approval RENAME COLUMN asked_at TO requested_at;
ALTER TABLE approval RENAME COLUMN asked_by TO requested_by;
ALTER TABLE personal_approval RENAME COLUMN given_at TO granted_at;

ALTER TABLE route RENAME COLUMN answer_status TO response_status;
ALTER TABLE route RENAME COLUMN answer_type TO response_type;
ALTER TABLE route RENAME COLUMN answer_body TO response_body;
ALTER TABLE route_history RENAME COLUMN answer_status TO response_status;
ALTER TABLE route_history RENAME COLUMN answer_type TO response_type;
ALTER TABLE route_history RENAME COLUMN answer_body TO response_body;

ALTER TABLE person RENAME COLUMN running TO admin_role;
ALTER TABLE profile_field RENAME COLUMN rule TO pattern;

ALTER TABLE decision RENAME COLUMN plane TO endpoint;
UPDATE decision SET route = substr(route, 5) WHERE route LIKE 'ANY %';
UPDATE decision SET checks = replace(replace(replace(replace(checks, '"came":', '"received":'), '"mend":', '"fix":'),
    '"check":"scope-life"', '"check":"scope-status"'), '"check":"at-once"', '"check":"concurrent"');
UPDATE decision SET checks = replace(checks, '"reason":"' || reason || '"', '"reason":"' || CASE reason
        WHEN 'page-not-known' THEN 'origin-not-registered'
        WHEN 'not-theirs' THEN 'not-owner'
        WHEN 'not-their-role' THEN 'admin-role-too-low'
        WHEN 'not-their-issuer' THEN 'other-issuer'
        WHEN 'client-for-nobody' THEN 'no-sign-in-client'
        WHEN 'nothing-left-to-give' THEN 'no-scope-left'
        WHEN 'person-may-not' THEN 'person-lacks-role'
        WHEN 'scope-not-asked' THEN 'scope-not-requested'
        WHEN 'too-many-at-once' THEN 'too-many-concurrent'
        ELSE reason END || '"')
    WHERE reason <> '';
UPDATE decision SET reason = CASE reason
        WHEN 'page-not-known' THEN 'origin-not-registered'
        WHEN 'not-theirs' THEN 'not-owner'
        WHEN 'not-their-role' THEN 'admin-role-too-low'
        WHEN 'not-their-issuer' THEN 'other-issuer'
        WHEN 'client-for-nobody' THEN 'no-sign-in-client'
        WHEN 'nothing-left-to-give' THEN 'no-scope-left'
        WHEN 'person-may-not' THEN 'person-lacks-role'
        WHEN 'scope-not-asked' THEN 'scope-not-requested'
        WHEN 'too-many-at-once' THEN 'too-many-concurrent'
        ELSE reason END
    WHERE reason <> '';

-- What people and clients were granted together: one grant, its codes and its refresh tokens.
ALTER TABLE family RENAME TO authorization_grant;
ALTER TABLE authorization_code RENAME COLUMN family_id TO grant_id;
ALTER TABLE refresh_token RENAME COLUMN family_id TO grant_id;
ALTER TABLE device_request RENAME COLUMN family_id TO grant_id;
ALTER TABLE revocation RENAME COLUMN family_id TO grant_id;
ALTER TABLE route RENAME COLUMN more TO settings;
ALTER TABLE route_history RENAME COLUMN more TO settings;
ALTER TABLE trusted_issuer RENAME COLUMN more TO settings;
ALTER TABLE upstream_credential RENAME COLUMN shown TO settings;
