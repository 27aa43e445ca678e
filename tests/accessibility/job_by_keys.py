#!/usr/bin/python3
"""Job 1 of the demo by keys alone, with what a screen reader is told of it, and a name for everything it can reach.

Runs on a display and a session bus of its own:
  scripts/with-display dbus-run-session -- tests/accessibility/job_by_keys.py PROGRAM DOCUMENT FOLDER
"""
import os
import shutil
import subprocess
import sys
import time

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi  # noqa: E402

PATIENCE = 90  # seconds: the machine may be busy with much else
failures = []


def check(good, words):
    print(("ok    " if good else "WRONG ") + words)
    if not good:
        failures.append(words)


def wait_for(what, words):
    end = time.time() + PATIENCE
    while time.time() < end:
        try:
            found = what()
        except Exception:  # an object that went away meanwhile
            found = None
        if found:
            return found
        time.sleep(0.1)
    check(False, "in time: " + words)
    return None


def below(node):
    for i in range(node.get_child_count()):
        child = node.get_child_at_index(i)
        if child is not None:
            yield child
            yield from below(child)


def program():
    desktop = Atspi.get_desktop(0)
    for i in range(desktop.get_child_count()):
        child = desktop.get_child_at_index(i)
        if child and child.get_name() == "tackpoint":
            return child
    return None


def named(name, role=None):
    for node in below(program()):
        if node.get_name() == name and (role is None or node.get_role_name() == role):
            return node
    return None


def sentence():
    return named("Sentence").get_description()


def message():
    for node in below(named("Status")):
        if node.get_role_name() == "label":
            return node.get_name()
    return ""


def focused():
    # A tree's current row says that it has the focus whether or not the tree has it.
    row = None
    for node in below(program()):
        if node.get_state_set().contains(Atspi.StateType.FOCUSED):
            if node.get_role_name() not in ("table cell", "tree item", "list item"):
                return node
            row = row or node
    return row


def focus_says(words):
    return wait_for(lambda: focused() and words in (focused().get_name() or ""), "the focus is at " + words)


KEYS = {"Return": 36, "Tab": 23, "Escape": 9, "Down": 116, "Up": 111, "F6": 72}
CONTROL, SHIFT = 37, 50


def press(key, *modifiers):
    if not modifiers and key not in KEYS:
        return type_text(key)
    for m in modifiers:
        Atspi.generate_keyboard_event(m, None, Atspi.KeySynthType.PRESS)
    if key in KEYS:
        Atspi.generate_keyboard_event(KEYS[key], None, Atspi.KeySynthType.PRESSRELEASE)
    else:
        Atspi.generate_keyboard_event(Atspi_keysym(key), None, Atspi.KeySynthType.SYM)
    for m in reversed(modifiers):
        Atspi.generate_keyboard_event(m, None, Atspi.KeySynthType.RELEASE)
    time.sleep(0.15)


def Atspi_keysym(letter):
    return ord(letter)


def type_text(text):
    # Letter by letter, with whatever keys each of them needs.
    for letter in text:
        Atspi.generate_keyboard_event(0, letter, Atspi.KeySynthType.STRING)
        time.sleep(0.03)
    time.sleep(0.1)


def everything_has_a_name():
    nameless = []
    for node in below(program()):
        states = node.get_state_set()
        if not states.contains(Atspi.StateType.SHOWING):
            continue
        if states.contains(Atspi.StateType.FOCUSABLE) and not node.get_name():
            nameless.append(node.get_role_name())
        if node.get_role_name() in ("push button", "toggle button", "radio button", "text", "menu item", "page tab"):
            if not node.get_name():
                nameless.append(node.get_role_name())
    check(not nameless, "everything that can be reached has a name " + str(nameless))
    stage = named("Stage")
    check(stage is not None and stage.get_role_name() not in ("filler", "unknown"), "the stage has a role")


def job(document):
    wait_for(lambda: program() and named("Stage"), "the program is there")
    wait_for(lambda: named("Channel 3"), "Parts lists the parts")
    everything_has_a_name()

    # Pick Channel 3 in Parts, found by its name.
    press("f", CONTROL)
    focus_says("Search in Parts")
    type_text("Channel 3")
    press("Return")
    wait_for(lambda: "1 picked: Channel 3" in sentence(), "Enter picks what was found")
    check("1 picked: Channel 3" in sentence(), "Channel 3 is picked: " + sentence())

    # Meet, both places typed.
    press("t")
    wait_for(lambda: "Bring Channel 3" in sentence(), "Meet says what it will do")
    press("=")
    type_text('"Channel 3" vertex 1')
    press("Return")
    wait_for(lambda: "from its vertex" in sentence(), "From is taken")
    press("=")
    type_text('"Post 4" vertex 228')
    press("Return")
    wait_for(lambda: sentence().startswith("Brought"), "they meet")
    wait_for(lambda: named("exact", "label"), "the loupe says that it is exact")
    check("Brought Channel 3 from its vertex to vertex of Post 4" in sentence(), "the sentence says what was done: " + sentence())

    # A gap in inches, into the same step.
    type_text("3/8 in")
    press("Return")
    wait_for(lambda: "3/8 in" in sentence(), "the gap stands in the sentence")
    press("z", CONTROL)
    press("z", CONTROL)
    wait_for(lambda: "Brought" not in sentence(), "undone")
    press("Z", CONTROL, SHIFT)
    wait_for(lambda: "Redone" in message(), "redone: " + message())

    # Measured between the same two places.
    press("u")
    press("=")
    type_text('"Channel 3" vertex 1')
    press("Return")
    press("=")
    type_text('"Post 4" vertex 228')
    press("Return")
    wait_for(lambda: sentence().startswith("Measured") and ": 0 mm" in sentence(), "the measure says 0 mm: " + sentence())

    # The basin by numbers in Placement.
    press("Escape")
    press("Escape")
    press("f", CONTROL)
    press("a", CONTROL)
    type_text("Catch basin")
    press("Return")
    wait_for(lambda: "Catch basin" in sentence(), "Enter picks what was found")
    check("Catch basin" in sentence(), "the basin is picked: " + sentence())
    for _ in range(9):
        if "Placement of" in focused().get_name():
            break
        press("F6")
    for _ in range(8):
        if focused().get_name() == "Position along X":
            break
        press("Tab")
    check(focused().get_name() == "Position along X", "the focus is in Placement: " + focused().get_name())
    press("a", CONTROL)
    type_text("440")
    press("Tab")
    press("a", CONTROL)
    type_text("-2 1/2 in")
    press("Return")
    wait_for(lambda: "y -2 1/2 in" in sentence(), "Placement's step stands in the sentence: " + sentence())

    # Saved, and the title says so.
    press("s", CONTROL)
    wait_for(lambda: "Saved" in message(), "saved: " + message())


def main():
    binary, document, folder = sys.argv[1:4]
    os.makedirs(folder, exist_ok=True)
    copy = os.path.join(folder, "run.glb")
    shutil.copy(document, copy)
    settings = os.path.join(folder, "settings", "tackpoint")
    os.makedirs(settings, exist_ok=True)
    with open(os.path.join(settings, "tackpoint.conf"), "w") as file:
        file.write("[tour]\nseen=true\n")
    environment = dict(os.environ, QT_LINUX_ACCESSIBILITY_ALWAYS_ON="1", XDG_CONFIG_HOME=os.path.join(folder, "settings"))
    running = subprocess.Popen([binary, copy], env=environment)
    try:
        job(copy)
    finally:
        running.terminate()
        running.wait()
    print("%d wrong" % len(failures))
    return 1 if failures else 0


if __name__ == "__main__":
    sys.exit(main())
