"""What ``./run test`` begins. Each process of a server under test looks at it again: it imports nothing."""

if __name__ == "__main__":
    import sys

    from tools.suite.command import main

    sys.exit(not main())
