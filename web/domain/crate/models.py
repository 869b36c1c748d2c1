"""Places, trays, the lures in them, and the history of changes that makes undo possible."""

from typing import Any

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from tackle.base.vocabulary import CATEGORIES
from tackle.crate.lure import SOUNDS
from tackle.intake.sheet_rows import CONDITIONS, MOST_TYPED
from web.common.ui.words import label

OWNER: dict[str, Any] = {"to": settings.AUTH_USER_MODEL, "on_delete": models.CASCADE}
# The change with which a word was learned: it is forgotten when that is taken back.
LEARNED_WITH: dict[str, Any] = {
    "to": "history.Change", "on_delete": models.SET_NULL, "null": True, "blank": True, "related_name": "+",
}  # fmt: skip


def category_choices() -> list[tuple[str, str]]:
    """The kinds of lures there are; a new one needs no migration."""
    return [(category, label(category)) for category in CATEGORIES]


class Place(models.Model):
    """Where trays are. What lies at home is stock to refill the others from."""

    class Kind(models.TextChoices):
        BOAT = "boat", "on the boat"
        HOME = "home", "at home"
        BANK = "bank", "in the bank bag"

    owner = models.ForeignKey(**OWNER, related_name="places")
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=4, choices=Kind, default=Kind.BOAT)

    class Meta:
        ordering = ["kind", "name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_place_a_name")]

    def __str__(self) -> str:
        return self.name


class Tray(models.Model):
    class Label(models.TextChoices):
        TEAL = "teal"
        PLUM = "plum"
        RUST = "rust"
        MOSS = "moss"
        SLATE = "slate"
        NAVY = "navy"

    owner = models.ForeignKey(**OWNER, related_name="trays")
    place = models.ForeignKey(Place, on_delete=models.SET_NULL, null=True, blank=True, related_name="trays")
    letter = models.CharField(max_length=3)
    name = models.CharField(max_length=60)
    label = models.CharField("label colour", max_length=6, choices=Label, default=Label.TEAL)
    rows = models.PositiveSmallIntegerField(default=4, validators=[MinValueValidator(1), MaxValueValidator(20)])
    columns = models.PositiveSmallIntegerField(default=3, validators=[MinValueValidator(1), MaxValueValidator(20)])

    class Meta:
        ordering = ["letter"]
        constraints = [models.UniqueConstraint(fields=["owner", "letter"], name="one_tray_a_letter")]

    def __str__(self) -> str:
        return f"{self.letter} · {self.name}"

    @property
    def room(self) -> int:
        """How many compartments there are."""
        return self.rows * self.columns

    @property
    def at_home(self) -> bool:
        return self.place is not None and self.place.kind == Place.Kind.HOME


class Picture(models.Model):
    """A photograph, re-encoded and stripped of all that a camera writes beside it; its owner alone gets to see it."""

    owner = models.ForeignKey(**OWNER, related_name="pictures")
    made_at = models.DateTimeField(auto_now_add=True)
    jpeg = models.BinaryField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    corners = models.JSONField(null=True)  # of the tray in it, in pixels, where they were found

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.width} x {self.height}"


class Lure(models.Model):
    tray = models.ForeignKey(Tray, on_delete=models.CASCADE, related_name="lures")
    category = models.CharField(max_length=20, choices=[(c, label(c)) for c in CATEGORIES], db_index=True)
    card = models.CharField("colour", max_length=60, db_index=True, db_collation="utf8mb4_bin")
    name = models.CharField("name as printed", max_length=80, blank=True)
    count = models.PositiveSmallIntegerField(default=1, validators=[MinValueValidator(1), MaxValueValidator(999)])
    size_in = models.FloatField(null=True, blank=True)
    weight_oz = models.FloatField(null=True, blank=True)
    depth_ft = models.FloatField("running depth", null=True, blank=True)
    sound = models.CharField(max_length=8, blank=True, choices=[(one, one) for one in SOUNDS])
    price = models.DecimalField(max_digits=8, decimal_places=2, null=True, blank=True)
    condition = models.CharField(max_length=12, blank=True, choices=[(one, one) for one in CONDITIONS])
    note = models.CharField(max_length=300, blank=True)
    # The lines that it was typed in as, whole, a line each.
    typed = models.CharField("as typed", max_length=MOST_TYPED, blank=True)
    picture = models.ForeignKey(Picture, on_delete=models.SET_NULL, null=True, blank=True, related_name="lures")
    position = models.PositiveSmallIntegerField(default=0)

    class Meta:
        ordering = ["tray__letter", "position", "pk"]

    def __str__(self) -> str:
        return f"{self.count} {self.category} {self.card}"


class Thing(models.Model):
    """What lies in a tray and has no colour that counts: weights, hooks, tools."""

    tray = models.ForeignKey(Tray, on_delete=models.CASCADE, related_name="things")
    name = models.CharField("what it is", max_length=80)
    count = models.PositiveSmallIntegerField(default=1, validators=[MaxValueValidator(999)])
    weight_oz = models.FloatField("weight of one", null=True, blank=True)
    size_in = models.FloatField(null=True, blank=True)
    typed = models.CharField("as typed", max_length=MOST_TYPED, blank=True)
    par = models.PositiveSmallIntegerField("never fewer than", default=0, validators=[MaxValueValidator(999)])

    class Meta:
        ordering = ["tray__letter", "name", "pk"]

    def __str__(self) -> str:
        return f"{self.count} {self.name}"

    @property
    def short(self) -> int:
        """How many are missing to what shall be there."""
        return max(self.par - self.count, 0)


class Mark(models.Model):
    """What the angler said of a finding of the check: done, put off for a while, or dismissed with a reason."""

    class State(models.TextChoices):
        DONE = "done"
        LATER = "later", "put off"
        NO = "no", "dismissed"

    owner = models.ForeignKey(**OWNER, related_name="marks")
    finding = models.CharField(max_length=120, db_collation="utf8mb4_bin")
    words = models.CharField(max_length=200)
    state = models.CharField(max_length=5, choices=State)
    reason = models.CharField(max_length=200, blank=True)
    at = models.DateField(auto_now=True)

    class Meta:
        ordering = ["-at", "-pk"]
        constraints = [models.UniqueConstraint(fields=["owner", "finding"], name="one_mark_a_finding")]

    def __str__(self) -> str:
        return f"{self.finding}: {self.state}"


class Score(models.Model):
    """How many expected days the boat answered on a day."""

    owner = models.ForeignKey(**OWNER, related_name="scores")
    day = models.DateField()
    answered = models.FloatField()
    expected = models.FloatField()

    class Meta:
        ordering = ["-day"]
        constraints = [models.UniqueConstraint(fields=["owner", "day"], name="one_score_a_day")]

    def __str__(self) -> str:
        return f"{self.day}: {self.answered:g} of {self.expected:g}"


class Printed(models.Model):
    """The card that the angler chose for a printed name, so that the same name is known next time."""

    owner = models.ForeignKey(**OWNER, related_name="printed_names")
    category = models.CharField(max_length=20, blank=True)
    text = models.CharField(max_length=80)
    card = models.CharField(max_length=60)
    change = models.ForeignKey(**LEARNED_WITH)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "category", "text"], name="one_card_a_printed_name")]

    def __str__(self) -> str:
        return f"{self.text}: {self.card}"


class KindWord(models.Model):
    """The kind that the angler chose for a word that named none, so that it is known next time."""

    owner = models.ForeignKey(**OWNER, related_name="kind_words")
    text = models.CharField(max_length=80)
    category = models.CharField(max_length=20)
    change = models.ForeignKey(**LEARNED_WITH)

    class Meta:
        ordering = ["text"]
        constraints = [models.UniqueConstraint(fields=["owner", "text"], name="one_kind_a_word")]

    def __str__(self) -> str:
        return f"{self.text}: {self.category}"


class Heap(models.Model):
    """Lines that are typed and not yet taken in, and what was put right in them: [line, {field: value}] each."""

    owner = models.OneToOneField(**OWNER, related_name="heap")
    rows = models.JSONField(default=list)
    waiting = models.TextField(blank=True)  # lines behind those of the page
    tray = models.CharField(max_length=12, blank=True)

    def __str__(self) -> str:
        return f"{len(self.rows)} lines of {self.owner_id}"


class ImportDraft(models.Model):
    """A file read but not yet taken in.

    `sheets`: for each its name, headings, what each column holds, and whether it is wanted. `mends`: cells that may say
    other than was meant, each [kind, sheet, row number, column, was, told]; `mended`: the kinds that are put right.
    """

    class There(models.TextChoices):
        ASK = "", "ask"
        ADD = "add", "add up"
        LEAVE = "leave", "leave out"
        APART = "apart", "keep apart"

    owner = models.ForeignKey(**OWNER, related_name="import_drafts")
    made_at = models.DateTimeField(auto_now_add=True)
    name = models.CharField(max_length=120)
    tray = models.ForeignKey(Tray, on_delete=models.SET_NULL, null=True, blank=True)
    sheets = models.JSONField(default=list)
    mends = models.JSONField(default=list)
    mended = models.JSONField(default=list)
    there = models.CharField(max_length=5, blank=True, choices=There)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def wanted(self) -> list[int]:
        """Which of the sheets are to be taken in."""
        return [index for index, sheet in enumerate(self.sheets) if sheet["wanted"]]


class ImportRow(models.Model):
    """One row of a draft: its cells as they stand, and the lure that they were read as once.

    `like`: what is the same of two equal lures in one tray; `there`: what is to become of it where the crate has one.
    """

    draft = models.ForeignKey(ImportDraft, on_delete=models.CASCADE, related_name="rows")
    sheet = models.PositiveSmallIntegerField()
    number = models.PositiveIntegerField()
    cells = models.JSONField(default=list)
    told = models.JSONField(default=dict)
    amiss = models.BooleanField(default=False)
    like = models.CharField(max_length=300, db_collation="utf8mb4_bin")
    there = models.CharField(max_length=5, blank=True, choices=ImportDraft.There)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.draft_id}, row {self.number}"
