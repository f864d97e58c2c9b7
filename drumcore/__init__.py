"""The computation behind Zesty Skin: from drum recordings to a kit that plays like a drummer."""
