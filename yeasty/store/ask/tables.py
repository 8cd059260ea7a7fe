"""Trials: methods, steps, ingredients, attributes, and how the design changed."""

import uuid
from datetime import datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import ForeignKey, Index, Numeric, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from yeasty.core.ask import trial as core
from yeasty.core.ask.deciding import Deciding
from yeasty.core.kernel import steps as core_steps
from yeasty.core.kernel.scales import Scale
from yeasty.store.base import Base, Id, Shaped, one_of


class Trial(Base):
    """One question and all that answers it. `version` covers its design: every edit at Ask and Set up raises
    it.
    """

    __tablename__ = "trial"
    id: Mapped[Id]
    title: Mapped[str]
    question: Mapped[str]
    dish: Mapped[str]
    aliases: Mapped[str] = mapped_column(default="")
    kind: Mapped[str]
    fairness: Mapped[str]
    done_rule: Mapped[str]
    answer_rule: Mapped[str] = mapped_column(default="")
    matters: Mapped[float] = mapped_column(default=0.0)
    deciding: Mapped[Deciding] = mapped_column(Shaped(Deciding), default=Deciding)
    hunch: Mapped[str] = mapped_column(default="")
    food_class: Mapped[str] = mapped_column(default="")
    pieces: Mapped[int] = mapped_column(default=12)
    varied: Mapped[list[str]] = mapped_column(default=list)
    layout: Mapped[dict[str, Any]] = mapped_column(default=dict)
    matches: Mapped[str] = mapped_column(default="")
    parent_trial_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("trial.id", ondelete="SET NULL"), index=True
    )
    parent_words: Mapped[str] = mapped_column(default="")
    batches_each: Mapped[int] = mapped_column(default=1)
    serving_kg: Mapped[float | None]
    eaters: Mapped[int] = mapped_column(default=0)
    leftover_use: Mapped[str] = mapped_column(default="")
    guess_token: Mapped[str] = mapped_column(default="", index=True)
    guesses_closed_at: Mapped[datetime | None]
    simulated: Mapped[bool] = mapped_column(default=False)
    put_away_at: Mapped[datetime | None]
    # What all methods have in common: see `yeasty.core.ask.preparation`.
    preparation: Mapped[dict[str, Any]] = mapped_column(default=dict)
    created_at: Mapped[datetime]
    updated_at: Mapped[datetime]
    version: Mapped[int] = mapped_column(default=1)
    attributes: Mapped[list["Attribute"]] = relationship(
        order_by="Attribute.position", cascade="all, delete-orphan"
    )
    methods: Mapped[list["Method"]] = relationship(order_by="Method.position", cascade="all, delete-orphan")
    ingredients: Mapped[list["Ingredient"]] = relationship(
        order_by="Ingredient.position", cascade="all, delete-orphan"
    )
    controls: Mapped[list["Control"]] = relationship(
        order_by="Control.position", cascade="all, delete-orphan"
    )
    accepted: Mapped[list["AcceptedDifference"]] = relationship(
        order_by="AcceptedDifference.field", cascade="all, delete-orphan"
    )
    __table_args__ = (
        one_of("kind", core.TrialKind),
        one_of("fairness", core.Fairness),
        one_of("done_rule", core.DoneRule),
        Index("ix_trial_updated_at_id", "updated_at", "id"),
    )


class Attribute(Base):
    """One thing tasters are asked."""

    __tablename__ = "attribute"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    name: Mapped[str]
    scale: Mapped[str]
    weight: Mapped[float]
    low_words: Mapped[str] = mapped_column(default="")
    high_words: Mapped[str] = mapped_column(default="")
    high_is_better: Mapped[bool] = mapped_column(default=True)
    words: Mapped[list[str]] = mapped_column(default=list)
    # Which scales there are is the core's to say: no constraint lists them.
    __table_args__ = (UniqueConstraint("trial_id", "name"),)

    def spec(self) -> core.Attribute:
        """The row as the core knows it."""
        return core.Attribute(
            str(self.id),
            self.name,
            Scale(self.scale),
            self.weight,
            self.low_words,
            self.high_words,
            self.high_is_better,
            tuple(self.words),
        )


class Method(Base):
    """One arm: a way of cooking under test, with mark, tag and steps.

    `struck_hazards` : hazard to why it does not hold for this method; `meant` : {"rule", "not_for", "by",
        "at"} where its
    food is meant pink, soft or raw by a rule the lead wrote down, else empty; `together` : what methods
    cooked as one load (on one tray, in one basket) call it, empty for a load of its own; `purpose` : what it
        is for, in the cook's words ("for a crowd")
    """

    __tablename__ = "method"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    name: Mapped[str]
    technique: Mapped[str]
    mark: Mapped[int]
    tag: Mapped[str]
    batch_kg: Mapped[float | None]
    pieces_per_batch: Mapped[int] = mapped_column(default=6)
    piece_kg: Mapped[float | None]
    start_c: Mapped[float | None]
    piece_shape: Mapped[str] = mapped_column(default="")
    piece_thickness_m: Mapped[float | None]
    piece_food: Mapped[str] = mapped_column(default="")
    gear: Mapped[list[str]] = mapped_column(default=list)
    hazards: Mapped[list[str]] = mapped_column(default=list)
    struck_hazards: Mapped[dict[str, Any]] = mapped_column(default=dict)
    meant: Mapped[dict[str, Any]] = mapped_column(default=dict)
    levels: Mapped[list[str]] = mapped_column(default=list)
    vessel: Mapped[str] = mapped_column(default="")
    lid: Mapped[str] = mapped_column(default="")
    place: Mapped[str] = mapped_column(default="")
    operator: Mapped[str] = mapped_column(default="")
    together: Mapped[str] = mapped_column(default="")
    checks: Mapped[list[str]] = mapped_column(default=list)
    parent_method_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("method.id", ondelete="SET NULL", deferrable=True, initially="DEFERRED"), index=True
    )
    parent_words: Mapped[str] = mapped_column(default="")
    change: Mapped[str] = mapped_column(default="")
    aimed_defect: Mapped[str] = mapped_column(default="")
    outcome: Mapped[str] = mapped_column(default="")
    failed_tries: Mapped[int] = mapped_column(default=0)
    verdict_word: Mapped[str] = mapped_column(default="")
    verdict_note: Mapped[str] = mapped_column(default="")
    purpose: Mapped[str] = mapped_column(default="")
    hold_limit_s: Mapped[float | None]
    steps: Mapped[list["Step"]] = relationship(order_by="Step.position", cascade="all, delete-orphan")
    amounts: Mapped[list["MethodAmount"]] = relationship(cascade="all, delete-orphan")
    __table_args__ = (UniqueConstraint("trial_id", "mark"), UniqueConstraint("trial_id", "tag"))


class Step(Base):
    """One thing to do; see `yeasty.core.kernel.steps`."""

    __tablename__ = "step"
    id: Mapped[Id]
    method_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("method.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    what: Mapped[str]
    attention: Mapped[str]
    phase: Mapped[str]
    duration_s: Mapped[float]
    end_rule: Mapped[str] = mapped_column(default="clock")
    during_offset_s: Mapped[float | None]
    end_core_c: Mapped[float | None]
    end_cue: Mapped[str] = mapped_column(default="")
    appliance_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("appliance.id", ondelete="SET NULL"))
    set_point_c: Mapped[float | None]
    power_w: Mapped[float | None]
    dial_for_c: Mapped[float | None]
    for_altitude_m: Mapped[float | None]
    end_kg: Mapped[float | None]
    days_before: Mapped[int] = mapped_column(default=0)
    longest_s: Mapped[float | None]
    __table_args__ = (
        one_of("attention", core_steps.Attention),
        one_of("phase", core_steps.Phase),
        one_of("end_rule", core_steps.EndRule),
    )

    def core(self) -> core_steps.Step:
        """The row as the core knows it."""
        return core_steps.Step(
            str(self.id),
            self.what,
            core_steps.Attention(self.attention),
            core_steps.Phase(self.phase),
            self.duration_s,
            core_steps.EndRule(self.end_rule),
            self.during_offset_s,
            self.end_core_c,
            self.end_cue,
            str(self.appliance_id) if self.appliance_id else None,
            self.set_point_c,
            self.power_w,
            self.dial_for_c,
            self.for_altitude_m,
            self.end_kg,
            self.days_before,
            self.longest_s,
        )


class Ingredient(Base):
    """A lot of an ingredient: what was bought, its price and allergens."""

    __tablename__ = "ingredient"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    name: Mapped[str]
    lot: Mapped[str] = mapped_column(default="")
    source: Mapped[str] = mapped_column(default="")
    price_per_kg: Mapped[Decimal | None] = mapped_column(Numeric(12, 4))
    allergens: Mapped[list[str]] = mapped_column(default=list)
    allergens_checked: Mapped[bool] = mapped_column(default=False)
    grade: Mapped[str] = mapped_column(default="")
    age_days: Mapped[float | None]
    pack_kg: Mapped[float | None]
    composition: Mapped[dict[str, Any]] = mapped_column(default=dict)
    stands_for: Mapped[dict[str, Any]] = mapped_column(default=dict)
    from_method_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("method.id", ondelete="SET NULL"))
    __table_args__ = (UniqueConstraint("trial_id", "name"),)


class MethodAmount(Base):
    """How much of an ingredient goes into one batch of a method [kg]."""

    __tablename__ = "method_amount"
    method_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("method.id", ondelete="CASCADE"), primary_key=True
    )
    ingredient_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("ingredient.id", ondelete="CASCADE"), primary_key=True
    )
    mass_kg: Mapped[float]


class Control(Base):
    """Something held equal, and how."""

    __tablename__ = "control"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    what: Mapped[str]
    held_at: Mapped[str] = mapped_column(default="")


class DesignChange(Base):
    """One edit of a trial's design: which version it made, who, when, what, and each value before and
    after.
    """

    __tablename__ = "design_change"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"))
    version: Mapped[int]
    at: Mapped[datetime]
    by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    what: Mapped[str]
    changes: Mapped[list[Any]]
    __table_args__ = (
        Index("ix_design_change_trial_id_version", "trial_id", "version"),
        Index("ix_design_change_by_trial_id", "by", "trial_id"),
    )


class AcceptedDifference(Base):
    """A difference accepted in writing; it stands for the values it was accepted with (`signature`)."""

    __tablename__ = "accepted_difference"
    id: Mapped[Id]
    trial_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    field: Mapped[str]
    signature: Mapped[str]
    reason: Mapped[str]
    accepted_at: Mapped[datetime]
    __table_args__ = (UniqueConstraint("trial_id", "field"),)
