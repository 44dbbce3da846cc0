"""What follows from the facts of a job: beliefs, the hook-up plan, the sheets, how far each layer is.

Nothing here is stored. `facts` loads a job in a fixed number of queries; the rest are pure functions of it.
"""
