"""People: signing in, second factor, sessions, keys for programs.

backends       How a password is checked
middleware     What holds for whoever asks, while they are answered
models         The person who signs in, where they are signed in, and the keys they gave to programs
notices        Mails to a person about their account, and the password asked for again before something weighty
passwords      What a password may be, beside Django's own rules
rates          How often something may be tried
requests       What a request is once a person has signed in
second_factor  The second factor
sessions       Where a person is signed in
tokens         Keys for programs
views          Join, the account, and the units to read in
"""
