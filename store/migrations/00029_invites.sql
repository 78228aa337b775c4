-- +goose Up
-- A link by which somebody of the staff chooses their own password: when they are added, or
-- have forgotten it. It works once, and not for long.
CREATE TABLE invites (
    token_hash  bytea PRIMARY KEY,
    workshop_id bigint NOT NULL,
    account_id  bigint NOT NULL UNIQUE,
    expires_at  timestamptz NOT NULL,
    FOREIGN KEY (workshop_id, account_id) REFERENCES accounts (workshop_id, id)
);
