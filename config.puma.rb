# frozen_string_literal: true

threads ENV.fetch("YENVO_THREADS", "8").to_i, ENV.fetch("YENVO_THREADS", "8").to_i
bind "tcp://#{ENV.fetch("HOST", "127.0.0.1")}:#{ENV.fetch("PORT", "9292")}"
environment "production"
quiet
