from django.apps import AppConfig


class Accounts(AppConfig):
    name = "web.common.accounts"

    def ready(self) -> None:
        from django.contrib.auth.signals import user_logged_in

        from web.common.accounts.signed_in import note_browser

        user_logged_in.connect(note_browser)
