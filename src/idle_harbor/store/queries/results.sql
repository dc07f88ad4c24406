-- name: get_result(input_hash, engine_version, kind)^
SELECT body FROM results
WHERE input_hash = :input_hash AND engine_version = :engine_version AND kind = :kind;

-- name: put_result(input_hash, engine_version, kind, body)!
INSERT INTO results (input_hash, engine_version, kind, body)
VALUES (:input_hash, :engine_version, :kind, :body)
ON CONFLICT DO NOTHING;

-- name: trim_results(most_bytes, most_days)!
-- The newest stay, as many as fit.
DELETE FROM results
WHERE made_at < now() - make_interval(days => :most_days)
   OR (input_hash, engine_version, kind) IN (
    SELECT input_hash, engine_version, kind
    FROM (
        SELECT input_hash, engine_version, kind, sum(octet_length(body)) OVER (
            ORDER BY made_at DESC, input_hash, kind ROWS UNBOUNDED PRECEDING
        ) AS bytes
        FROM results
    ) AS newest_first
    WHERE bytes > :most_bytes
);

-- name: drop_old_results(engine_version)!
DELETE FROM results WHERE engine_version <> :engine_version;

