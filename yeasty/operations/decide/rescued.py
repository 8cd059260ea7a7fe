"""The word of a rescue: what came of a finish, as the cook who saw it says."""

import uuid

from sqlalchemy.orm import Session

from yeasty.core.ask.screening import WORDS
from yeasty.core.kernel.errors import RuleError
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.tables import Batch, Shift


def say_word(db: Session, trial: Trial, batch_id: uuid.UUID, word: str, note: str) -> None:
    """Keep the word and the note of a rescue; an empty word takes both away. Its method's own stays as it is.

    Raises
    ------
    RuleError : no rescue of this trial, or not a word of its ladder
    """
    batch = db.get(Batch, batch_id)
    rescued = batch is not None and "rescue" in batch.facts
    if batch is None or not rescued or db.get_one(Shift, batch.shift_id).trial_id != trial.id:
        raise RuleError("rescue", "is none of this trial", "Choose a rescue that was made at its bench.")
    words = [str(w) for w in trial.layout.get("words", [])] or list(WORDS)
    if word and word not in words:
        raise RuleError("word", "is not of this ladder", f"Choose one of {', '.join(words)}.")
    batch.facts = {**batch.facts, "word": word, "word_note": note.strip() if word else ""}
    db.flush()
