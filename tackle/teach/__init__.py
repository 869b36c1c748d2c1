"""Teaching: the plan as a story, a drill on one's own days, how deep it still shows, the bite, and the debates."""
