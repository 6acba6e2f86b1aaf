# frozen_string_literal: true

module Yenvo
  module Core
    module Receivers
      # Somebody to whom a mail goes, or would. name: as it may be said where the record of the rule is read; address:
      # of e-mail; person: key, nil for somebody outside; why: what keeps them out, nil when nothing does.
      Receiver = Value.define(:name, :address, person: nil, why: nil)

      # A valid e-mail address of the HTML Standard (4.10.5.1.5), with a dot behind its @.
      LABEL = /[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?/
      GOOD = %r{\A[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+@#{LABEL}(?:\.#{LABEL})+\z}
      private_constant :LABEL, :GOOD

      class << Receiver
        # @return [Boolean] whether mail can go there: one address and nothing beside it
        def good?(address) =
          address.to_s.size.between?(3, 190) && GOOD.match?(address)
      end
    end
  end
end
