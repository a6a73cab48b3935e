"""A photo as an answer gives it."""

from jaxel.core.trade.machine.marked import PhotoMark
from jaxel.store.machine.photos import Photo

from ..record.model import Model


class PhotoView(Model):
    """A photo without its pixels; those are at its own address. `subject`, what it is of at its visit."""

    id: int
    caption: str
    width: int
    height: int
    taken_at: str
    taken_by: str
    removed: bool
    visit_id: int | None
    subject: str
    place: int
    marks: list[PhotoMark]


def photo_view(photo: Photo) -> PhotoView:
    return PhotoView(**{name: getattr(photo, name) for name in PhotoView.model_fields})
