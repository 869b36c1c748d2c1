from django.apps import AppConfig


class Accounts(AppConfig):
    name = "web.accounts"

    def ready(self) -> None:
        from django.contrib.auth.signals import user_logged_in

        from web.accounts.signed_in import note_browser

        user_logged_in.connect(note_browser)
