"""A file that is posted: its name and bytes, or why it cannot be taken."""

from typing import Any

from django import forms
from django.conf import settings
from django.http import HttpRequest


class UploadForm(forms.Form):
    file = forms.FileField(allow_empty_file=True)

    def clean_file(self) -> Any:
        file = self.cleaned_data["file"]
        if file.size > settings.WEATHER_UPLOAD_LIMIT:
            raise forms.ValidationError(
                f"{file.name}: {file.size / 1e6:.0f} MB is too large; a year of hours needs under "
                f"{settings.WEATHER_UPLOAD_LIMIT / 1e6:.0f} MB."
            )
        return file


def posted_file(request: HttpRequest) -> tuple[str, bytes] | str:
    """Name and bytes of the posted file, or why there is none."""
    form = UploadForm(request.POST, request.FILES)
    if not form.is_valid():
        return str(form.errors.get("file", ["Choose a file first."])[0])
    file = form.cleaned_data["file"]
    return file.name, file.read()
