-- name: get_result(input_hash, engine_version, kind)^
SELECT body FROM results
WHERE input_hash = :input_hash AND engine_version = :engine_version AND kind = :kind;

-- name: put_result(input_hash, engine_version, kind, body)!
INSERT INTO results (input_hash, engine_version, kind, body)
VALUES (:input_hash, :engine_version, :kind, :body)
ON CONFLICT DO NOTHING;

-- name: drop_old_results(engine_version)!
DELETE FROM results WHERE engine_version <> :engine_version;

