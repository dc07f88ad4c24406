"""HTTP: request and response models, blueprints, problem documents. No rule of the job here."""
