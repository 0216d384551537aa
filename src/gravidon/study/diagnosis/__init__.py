# SPDX-License-Identifier: GPL-3.0-or-later
"""Why it smokes: causes, signs and tests as open data, belief over them, the next best test, and sick cars to learn on."""
