"""Users, businesses, and who may act for which.

The tables are named, and their migrations lie, where they were first made: in ``setup``.
"""

from __future__ import annotations

from django.contrib.auth.models import AbstractBaseUser, BaseUserManager, PermissionsMixin
from django.db import models

from cravik.people.roles import Role


class User(AbstractBaseUser, PermissionsMixin):
    """A person who signs in with an e-mail address."""

    email = models.EmailField(unique=True)
    name = models.CharField(max_length=120, blank=True)
    is_active = models.BooleanField(default=True)

    USERNAME_FIELD = "email"
    objects = BaseUserManager["User"]()

    class Meta:
        app_label = "setup"

    def __str__(self) -> str:
        return self.email


class Business(models.Model):
    """One seller's firm. Every other row of the application belongs to exactly one."""

    name = models.CharField(max_length=80)
    support_email = models.EmailField()
    country = models.CharField(max_length=2)
    currency = models.CharField(max_length=3)
    time_zone = models.CharField(max_length=64, default="UTC")
    statement_text = models.CharField(max_length=22)
    #: What a receipt with tax has to say of who sells: an address of several lines, and the number under which they
    #: are taxed; empty until they are given.
    address = models.TextField(blank=True, default="")
    tax_number = models.CharField(max_length=30, blank=True, default="")
    #: By which ways to pay, by currency; see ``setup/ways.py``. Empty until it is decided.
    ways = models.JSONField(default=dict)
    made_at = models.DateTimeField()
    members = models.ManyToManyField(User, through="Membership", related_name="businesses")

    class Meta:
        app_label = "setup"

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """That a user may act for a business, and do what the role says."""

    user = models.ForeignKey(User, on_delete=models.CASCADE)
    business = models.ForeignKey(Business, on_delete=models.CASCADE)
    role = models.CharField(max_length=12, choices=Role.choices, default=Role.OWNER)

    class Meta:
        app_label = "setup"
        constraints = [models.UniqueConstraint(fields=["user", "business"], name="membership_once")]
