# frozen_string_literal: true

module Yenvo
  module Web
    # The person who calls may not do that. The message says who may.
    class Forbidden < Core::Error
    end
  end
end
