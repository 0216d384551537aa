# SPDX-License-Identifier: GPL-3.0-or-later
"""Going with the first start: senders, what the plan expects now, the steps and their gates."""
