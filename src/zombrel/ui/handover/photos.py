"""Photos of the job: taken in, bound to a wire, a pin or a zone, drawn on, noted."""

from __future__ import annotations

from functools import partial
from pathlib import Path

import msgspec
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QFileDialog, QLineEdit, QVBoxLayout, QWidget

from zombrel.actions.photos import (
    add_mark,
    add_photo,
    place_words,
    places,
    put_mark,
    put_photo,
    remove_photo,
)
from zombrel.job.edits import Edit, apply
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.records.photo import Photo, PhotoMark
from zombrel.store.photos import picture_of, take_photo
from zombrel.ui.handover.photo_canvas import PhotoCanvas
from zombrel.ui.session import Session
from zombrel.ui.set.cards import Entry
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.parts import button, clear, column, holder, label, row, scroller

NONE_YET = (
    "No photo yet: add one as JPEG or PNG. Where it was taken and by which camera is taken out; "
    "then drag an arrow, or click a number."
)
LIST_PX = 250


class PhotosView(QWidget):
    """The list at the left; one photo with its marks; what is said of it below."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.background = Background(self)
        self._chosen = ""
        self._bind = ""
        """What new photos are bound to: what one came from."""
        self._images: dict[str, QImage] = {}
        self._list = QVBoxLayout()
        self._list.setSpacing(6)
        self._whole = button(
            "Full size", self._toggle_whole, "plain", "Keep photos in full size too"
        )
        self._add = button("Add photos…", self._ask, "primary", "Add photos")
        left = column(row(self._add, 1), row(self._whole, 1), self._list, 1)
        inside = scroller(holder(left), "Photos")
        inside.setFixedWidth(LIST_PX)
        self.canvas = PhotoCanvas(session)
        self.canvas.marked.connect(self._marked)
        self._shows = Choice()
        self._shows.setAccessibleName("What the photo shows")
        self._shows.activated.connect(self._bound)
        self._note = QLineEdit()
        self._note.setAccessibleName("Note on this photo")
        self._note.setPlaceholderText("what is to be seen")
        self._note.editingFinished.connect(self._noted)
        self._out = button("Take out", self._remove, "plain", "Take this photo out of the job")
        self._under = row(label("shows", "quiet"), self._shows, self._note, self._out)
        self._under.setStretch(2, 1)
        self._marks = QVBoxLayout()
        self._marks.setSpacing(4)
        self._hint = label("", "small", wrap=True)
        right = column(self.canvas, self._under, self._marks, self._hint, spacing=6)
        right.setStretch(0, 1)
        whole = row(inside, right, spacing=12)
        whole.setStretch(1, 1)
        whole.setContentsMargins(0, 0, 0, 0)
        self.setLayout(whole)

    # ---- what is chosen

    @property
    def photo(self) -> Photo | None:
        """The photo on show: the one chosen, else the first."""
        photos = self._session.job.photos
        return by_id(photos, self._chosen) or (photos[0] if photos else None)

    def show_item(self, item: str) -> None:
        """A photo by its id, or those of a thing by its path."""
        photos = self._session.job.photos
        bound = next((p for p in photos if p.at == item), None)
        self._bind = "" if by_id(photos, item) is not None else item
        self._chosen = item if not self._bind else bound.id if bound is not None else ""
        self.refresh()
        self.canvas.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        """Show the job as it is now."""
        job, photo = self._session.job, self.photo
        clear(self._list)
        for p in job.photos:
            entry = Entry(p.id)
            entry.setFixedWidth(LIST_PX - 24)
            entry.show_entry(p.note or p.name, place_words(job, p.at), "good" if p.at else "open")
            entry.setChecked(photo is not None and p.id == photo.id)
            entry.clicked.connect(partial(self._choose, p.id))
            self._list.addWidget(entry)
        self._whole.set_on(self._keeps)
        for w in (self._shows, self._note, self._out):
            w.setEnabled(photo is not None)
        image, missing = QImage(), NONE_YET
        if photo is not None:
            image, missing = self._image(photo)
        self.canvas.show_photo(photo, image, missing)
        self._show_words(photo)

    def _show_words(self, photo: Photo | None) -> None:
        job = self._session.job
        every = [("", "the whole"), *places(job)]
        paths = [path for path, _ in every]
        if photo is not None and photo.at not in paths:
            every.append((photo.at, place_words(job, photo.at)))
            paths.append(photo.at)
        names = [words for _, words in every]
        if [self._shows.itemText(i) for i in range(self._shows.count())] != names:
            self._shows.clear()
            self._shows.addItems(names)
        self._paths = paths
        self._shows.setCurrentIndex(paths.index(photo.at) if photo is not None else 0)
        if not self._note.hasFocus():
            self._note.setText(photo.note if photo is not None else "")
        clear(self._marks)
        for i, mark in enumerate(photo.marks if photo is not None else ()):
            field = QLineEdit(mark.words)
            field.setAccessibleName(f"What {mark.kind} {i + 1} points at")
            field.setPlaceholderText("what it points at")
            field.editingFinished.connect(partial(self._worded, i, field))
            off = button("Off", partial(self._off, i), "plain", f"Take {mark.kind} {i + 1} off")
            line = row(label(str(i + 1), "strong"), field, off)
            line.setStretch(1, 1)
            self._marks.addLayout(line)
        self._hint.setText(
            "Drag an arrow, click a number. By keys: arrows move the cross-hair (Shift: far), "
            "A begins an arrow and ends it, N sets a number."
            if photo is not None
            else ""
        )

    def _image(self, photo: Photo) -> tuple[QImage, str]:
        """The picture, and what is said where it is not here."""
        if photo.file not in self._images:
            try:
                self._images[photo.file] = QImage.fromData(picture_of(photo))
            except Problem as problem:
                return QImage(), str(problem)
        return self._images[photo.file], "The picture is damaged: take it in once more."

    # ---- acting

    @property
    def _keeps(self) -> bool:
        return self._session.prefs.whole_photos

    def _toggle_whole(self) -> None:
        prefs = msgspec.structs.replace(self._session.prefs, whole_photos=not self._keeps)
        self._session.set_prefs(prefs)
        self._whole.set_on(self._keeps)

    def _choose(self, key: str) -> None:
        self._chosen = key
        self.refresh()

    def _ask(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(
            self, "Add photos", "", "Photos (*.jpg *.jpeg *.png);;All files (*)"
        )
        self.add([Path(n) for n in names])

    def add(self, paths: list[Path]) -> None:
        """Take photos in, off the window's thread; what is no photo is said, the others stay."""
        if not paths:
            return
        keeps, when = self._keeps, self._session.now()[:10]

        def work() -> tuple[list[Photo], list[str]]:
            found, refused = [], []
            for i, path in enumerate(paths):
                if not self.background.tell(i / len(paths)):
                    break
                try:
                    found.append(take_photo(path, when, keeps))
                except Problem as problem:
                    refused.append(str(problem))
            return found, refused

        failed = partial(self._session.said.emit, "trouble")
        self.background.start("Taking photos in", work, self._took, lambda p: failed(str(p)))

    def _took(self, result: tuple[list[Photo], list[str]]) -> None:
        found, refused = result
        s = self._session
        job, edits = s.job, []
        bind = self._bind if self._bind in dict(places(job)) else ""
        for photo in found:
            try:
                bound = msgspec.structs.replace(photo, at=bind)
                self._chosen, edit = add_photo(job, bound)
            except Problem as problem:
                refused.append(str(problem))
                continue
            edits.append(edit)
            job = apply(job, edit)
        for edit in edits:
            s.do("Photo added", edit)
        if refused:
            s.said.emit("trouble", " ".join(refused))
        elif edits:
            s.said.emit("good", f"{len(edits)} added; place and camera were taken out.")
        self.refresh()

    def _do(self, words: str, make: partial[Edit]) -> None:
        try:
            self._session.do(words, make())
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))

    def _bound(self, index: int) -> None:
        if self.photo is not None and self._paths[index] != self.photo.at:
            other = msgspec.structs.replace(self.photo, at=self._paths[index])
            self._do("Photo bound", partial(put_photo, self._session.job, other))

    def _noted(self) -> None:
        text = self._note.text().strip()
        if self.photo is not None and text != self.photo.note:
            other = msgspec.structs.replace(self.photo, note=text)
            self._do("Photo noted", partial(put_photo, self._session.job, other))

    def _marked(self, mark: PhotoMark) -> None:
        if self.photo is not None:
            words = "Arrow drawn" if mark.kind == "arrow" else "Number set"
            self._do(words, partial(add_mark, self._session.job, self.photo, mark))

    def _worded(self, which: int, field: QLineEdit) -> None:
        photo = self.photo
        if photo is None or which >= len(photo.marks):
            return
        text, mark = field.text().strip(), photo.marks[which]
        if text != mark.words:
            other = msgspec.structs.replace(mark, words=text)
            self._do("Mark worded", partial(put_mark, self._session.job, photo, which, other))

    def _off(self, which: int) -> None:
        if self.photo is not None:
            job, photo = self._session.job, self.photo
            self._do("Mark taken off", partial(put_mark, job, photo, which, None))

    def _remove(self) -> None:
        if self.photo is not None:
            self._do("Photo taken out", partial(remove_photo, self.photo))
