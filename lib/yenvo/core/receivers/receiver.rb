# frozen_string_literal: true

require "uri"

module Yenvo
  module Core
    module Receivers
      # Somebody to whom a mail goes, or would. name: as it may be said where the record of the rule is read; address:
      # of e-mail; person: key, nil for somebody outside; why: what keeps them out, nil when nothing does.
      Receiver = Value.define(:name, :address, person: nil, why: nil)

      class << Receiver
        # @return [Boolean] whether mail can go there: one address and nothing beside it
        def good?(address) =
          address.to_s.size.between?(3, 190) && [Reading::EMAIL, URI::MailTo::EMAIL_REGEXP].all? { _1.match?(address) }
      end
    end
  end
end
