"""What every screen is made of: base templates, components, styles, scripts, fonts.

Owns: no tables. Reads nothing of the business. Hands on: templates, tags and error pages."""
