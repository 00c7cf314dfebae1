"""What the absorber keeps of the sun.

absorbed   What a rated collector absorbs and loses, hour by hour
builder    A collector from its materials
incidence  Incidence angle modifiers
rated      Collectors rated by test
"""
