"""Numbers as they are said: 24 is twenty-four, 1912 a year, 007 figure by figure."""

# A longer row of figures is read out figure by figure, as a telephone number is.
_LONGEST_NUMBER = 9


def said_number(figures: str, *, may_be_year: bool = True) -> list[str]:
    """“24” → twenty, four."""
    # Few lines hold figures: the others do not wait for it.
    from num2words import num2words

    if len(figures) > _LONGEST_NUMBER or (len(figures) > 1 and figures[0] == "0"):
        return [str(num2words(int(figure))) for figure in figures]
    is_year = may_be_year and len(figures) == 4 and 1100 <= int(figures) < 2000
    said = str(num2words(int(figures), to="year" if is_year else "cardinal"))
    return [word for word in said.replace("-", " ").replace(",", "").split() if word != "and"]
