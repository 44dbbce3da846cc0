"""A photo of the connector: checked, turned upright, made small, and stripped of position and camera data."""

from __future__ import annotations

import io

from django.contrib.auth.models import User
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.utils import timezone
from PIL import Image, ImageOps, UnidentifiedImageError

from electrics.errors import InputError
from hailstone.identify.models import AccessPoint, Photo
from hailstone.layers.versions import touch

MOST_BYTES = 15_000_000
MOST_PIXELS = 60_000_000
LONGEST_SIDE = 1800
FORMATS = ("JPEG", "PNG", "WEBP")


def check_photo(upload: UploadedFile) -> tuple[bytes, int, int]:
    """The picture as a plain JPEG with its width and height [pixel]; nothing of the file's own data is kept.

    Raises
    ------
    InputError
        Too large, no picture, or one of another kind; the message says what to do.
    """
    size = upload.size or 0
    if size > MOST_BYTES:
        raise InputError(
            f"This picture has {size / 1e6:.0f} MB; up to {MOST_BYTES / 1e6:.0f} MB are taken. "
            "Send it smaller, as a camera does for a message."
        )
    try:
        with Image.open(upload, formats=FORMATS) as image:
            if image.width * image.height > MOST_PIXELS:
                raise InputError("This picture has too many pixels. Send it smaller.")
            upright = ImageOps.exif_transpose(image).convert("RGB")
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        if isinstance(error, InputError):
            raise
        raise InputError(
            f"“{upload.name}” is no picture that can be read here. Expected a JPEG, PNG or WebP photo."
        ) from error
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    clean = Image.new("RGB", upright.size)  # a fresh picture carries no metadata of the old one
    clean.paste(upright)
    out = io.BytesIO()
    clean.save(out, "JPEG", quality=82)
    return out.getvalue(), clean.width, clean.height


@transaction.atomic
def keep_photo(point: AccessPoint, upload: UploadedFile, who: User) -> None:
    """Store the photo of an access point in place of an earlier one."""
    jpeg, width, height = check_photo(upload)
    values = {"jpeg": jpeg, "width": width, "height": height, "added_by": who, "added_at": timezone.now()}
    Photo.objects.update_or_create(point=point, defaults=values)
    touch(point.job_id, who)


@transaction.atomic
def remove_photo(point: AccessPoint, who: User) -> None:
    """Take the photo away."""
    Photo.objects.filter(point=point).delete()
    touch(point.job_id, who)
