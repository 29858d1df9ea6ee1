"""Terms: each is used by some text of the program, and none is explained by itself."""

import re
import unittest

from hexlet_core.design.study import study
from hexlet_core.stages.registry import KINDS
from hexlet_core.stages.say.terms import terms

from .circuits import every_design


class Terms(unittest.TestCase):
    def test_each_form_is_used_by_a_text(self) -> None:
        texts = {v.working.reason for design in every_design() for v in study(design).verdicts}
        texts |= {text for kind in KINDS for text in (kind.purpose, kind.choose, kind.avoid)}
        whole = "\n".join(texts).lower()
        for form in (form for term in terms() for form in term.forms):
            with self.subTest(form):
                self.assertRegex(whole, rf"(?<!\w){re.escape(form)}(?!\w)")

    def test_each_form_belongs_to_one_term_and_each_text_is_one_sentence(self) -> None:
        forms = [form for term in terms() for form in term.forms]
        self.assertEqual(len(forms), len(set(forms)))
        for term in terms():
            with self.subTest(term.forms[0]):
                self.assertRegex(term.text, r"^[A-Z].{20,150}\.$")
                self.assertNotRegex(term.text, r"\. [A-Z].*\. ")
