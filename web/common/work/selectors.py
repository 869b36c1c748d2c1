"""Pieces of work, always from who asked for them."""

from django.shortcuts import get_object_or_404

from web.common.accounts.models import User
from web.common.work.models import Job


def get_job(owner: User, pk: int) -> Job:
    """A piece of work with what was asked and found, without what it was made of."""
    return get_object_or_404(Job.objects.defer("content"), owner=owner, pk=pk)
