"""The pages, by what a person does."""
