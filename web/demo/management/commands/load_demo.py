from typing import Any

from django.core.management.base import BaseCommand

from web.demo.loader import load_demo


class Command(BaseCommand):
    help = "Loads the demo data, once."

    def handle(self, *args: Any, **options: Any) -> None:
        user = load_demo()
        self.stdout.write(f"· Demo data is loaded for {user.username}" if user else "· Demo data is there already")
